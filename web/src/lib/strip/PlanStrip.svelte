<script lang="ts">
  import type { Kind, PartKind } from '../api/client'
  import type { Workbench } from '../state/workbench.svelte'
  import type { View } from '../state/view.svelte'
  import Chevron from '../parts/Chevron.svelte'
  import { whole } from '../parts/format'
  import PlanFigure from './PlanFigure.svelte'

  /** What the lap is based on: car, circuit, conditions with their figures, and the baseline. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  /** On a phone the lap comes first, and what it is based on is folded up over it. */
  const NARROW = 700
  let windowWidth = $state(1280)
  const open = $derived(bench.open)
  const figuresOf = (owner: Kind) => bench.figures.of(owner).filter((row) => row.strip)
</script>

{#snippet owner(kind: PartKind, label: string)}
  {@const part = bench.open?.[kind]}
  {#if part}
    <button class="owner named" onclick={() => (view.sheet = kind)}>
      <span class="unit">{label}</span>
      <span class="figure name">{part.name || 'No name'}</span>
      <Chevron />
      <span class="unit revision" class:pinned={part.pinned}
        >{part.pinned ? 'pinned at' : 'revision'}
        {part.revision}{part.revision < part.newest ? ` of ${part.newest}` : ''}{kind === 'car' &&
        open?.plan.setup
          ? `, ${open.plan.setup}`
          : ''}</span
      >
    </button>
  {/if}
{/snippet}
{#snippet cells(kind: Kind)}
  <div class="cells">
    {#each figuresOf(kind) as row (row.name)}
      <div class="cell" title={row.changes}>
        <span class="unit">{row.head}</span>
        <PlanFigure {bench} {view} {row} />
      </div>
    {/each}
  </div>
{/snippet}

{#snippet strip()}
  <section class="strip" aria-label="What the lap is based on">
    <div class="group">{@render owner('car', 'Car')}{@render cells('car')}</div>
    <div class="group">
      <button class="owner" onclick={() => (view.sheet = 'plan')}>
        <span class="unit">This plan</span>
        <Chevron />
      </button>
      {@render cells('plan')}
    </div>
    <div class="group">
      {@render owner('conditions', 'Conditions')}{@render cells('conditions')}
    </div>
    <div class="group circuit">
      {@render owner('circuit', 'Circuit')}
      <div class="cells facts">
        {#if bench.result}
          <span
            ><span class="figure">{whole(view.units.length(bench.result.length_m))}</span>
            <span class="unit">{view.units.lengthUnit}</span></span
          >
          <span
            ><span class="figure">{bench.result.corners.length}</span>
            <span class="unit">corners</span></span
          >
        {/if}
      </div>
    </div>
    <div class="group compare">
      <div class="caption">
        <button class="owner" onclick={() => (view.sheet = 'compare')}>
          <span class="unit">Compared with</span>
          <Chevron />
        </button>
        {#if open?.baseline}
          <button class="link" onclick={() => void bench.dropBaseline()}>Unpin</button>
        {:else}
          <button class="link" onclick={() => void bench.pinBaseline()}>Pin this lap</button>
        {/if}
      </div>
      <div class="cells facts">
        <span class="place title" title={open?.baseline?.title}
          >{open?.baseline?.title ?? 'nothing'}</span
        >
      </div>
    </div>
  </section>
{/snippet}

<svelte:window bind:innerWidth={windowWidth} />

{#if open}
  {#if windowWidth < NARROW}
    <details class="fold">
      <summary
        >What the lap is based on:
        <span class="place">{open.car.name}, {open.circuit.name}, {open.conditions.name}</span
        ></summary
      >
      {@render strip()}
    </details>
  {:else}{@render strip()}{/if}
{/if}

<style>
  .strip {
    display: flex;
    flex-wrap: wrap;
    border-bottom: 1px solid var(--ink);
  }
  .group {
    border-left: 1px solid var(--rule);
    padding: 4px 10px 3px;
    min-width: 0;
    display: flex;
    flex-direction: column;
  }
  .group:first-child {
    border-left: 0;
    padding-left: 0;
  }
  .group:last-child {
    padding-right: 0;
  }
  .circuit {
    flex: 3;
    min-width: 190px;
  }
  .compare {
    flex: 2;
    min-width: 182px;
  }
  .caption {
    display: flex;
    gap: 12px;
    align-items: baseline;
    justify-content: space-between;
  }
  .owner {
    display: flex;
    gap: 6px;
    align-items: baseline;
    cursor: pointer;
    white-space: nowrap;
    text-align: left;
    line-height: 20px;
    height: 20px;
  }
  .named {
    /* As wide as the figures under it, whatever the name. */
    width: 0;
    min-width: 100%;
  }
  .owner:hover .name {
    text-decoration: underline;
  }
  .name {
    font-size: 16px;
    overflow: hidden;
    text-overflow: ellipsis;
    min-width: 0;
  }
  .pinned {
    color: var(--ink);
    border: 1px solid var(--ink);
    padding: 0 4px;
    line-height: 1.1;
  }
  .cells {
    display: flex;
    gap: 0 14px;
    line-height: 1.15;
    padding-top: 2px;
  }
  .cell {
    display: flex;
    flex-direction: column;
  }
  .facts {
    flex: 1;
    align-items: flex-end;
    gap: 10px;
  }
  .facts .figure {
    font-size: 17px;
  }
  .facts .place {
    font-size: 16px;
  }
  .title {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    max-width: 180px;
  }
  .link {
    white-space: nowrap;
  }
  .fold {
    border-bottom: 1px solid var(--ink);
    padding: 6px 0;
  }
  .fold summary {
    overflow-wrap: anywhere;
    cursor: pointer;
  }
  .fold .strip {
    border-bottom: 0;
  }
  @media (max-width: 700px) {
    .group {
      flex: none;
      border-left: 0;
      border-top: 1px solid var(--hair);
      padding: 4px 0;
      width: 100%;
    }
    .cells {
      flex-wrap: wrap;
      gap: 4px 14px;
    }
  }
</style>
