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
    <button
      class="owner gap-1.5 flex items-baseline cursor-pointer whitespace-nowrap text-left leading-[20px] h-5 w-0 min-w-[100%]"
      onclick={() => (view.sheet = kind)}
    >
      <span class="unit">{label}</span>
      <span class="figure name overflow-hidden text-[16px] text-ellipsis min-w-0"
        >{part.name || 'No name'}</span
      >
      <Chevron />
      <span class="unit" class:pinned={part.pinned}
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
  <div class="cells pt-0.5 gap-x-3.5 gap-y-0 flex leading-[1.15]">
    {#each figuresOf(kind) as row (row.name)}
      <div class="flex flex-col" title={row.changes}>
        <span class="unit">{row.head}</span>
        <PlanFigure {bench} {view} {row} />
      </div>
    {/each}
  </div>
{/snippet}

{#snippet strip()}
  <section class="strip border-b border-b-ink flex flex-wrap" aria-label="What the lap is based on">
    <div class="group">{@render owner('car', 'Car')}{@render cells('car')}</div>
    <div class="group">
      <button
        class="owner gap-1.5 flex items-baseline cursor-pointer whitespace-nowrap text-left leading-[20px] h-5"
        onclick={() => (view.sheet = 'plan')}
      >
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
      <div class="cells facts pt-0.5 gap-2.5 flex-1 flex leading-[1.15] items-end">
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
      <button
        class="owner gap-1.5 flex items-baseline cursor-pointer whitespace-nowrap text-left leading-[20px] h-5"
        onclick={() => (view.sheet = 'compare')}
      >
        <span class="unit">Compared with</span>
        <Chevron />
      </button>
      <div class="cells facts pt-0.5 gap-3 flex-1 flex leading-[1.15] items-end justify-between">
        <span
          class="place overflow-hidden text-ellipsis whitespace-nowrap min-w-0 max-w-45 text-[16px]"
          title={open?.baseline?.title}>{open?.baseline?.title ?? 'nothing'}</span
        >
        {#if open?.baseline}
          <button class="link whitespace-nowrap" onclick={() => void bench.dropBaseline()}
            >Unpin</button
          >
        {:else}
          <button class="link whitespace-nowrap" onclick={() => void bench.pinBaseline()}
            >Pin this lap</button
          >
        {/if}
      </div>
    </div>
  </section>
{/snippet}

<svelte:window bind:innerWidth={windowWidth} />

{#if open}
  {#if windowWidth < NARROW}
    <details class="fold px-0 py-1.5 border-b border-b-ink">
      <summary class="wrap-anywhere cursor-pointer"
        >What the lap is based on:
        <span class="place">{open.car.name}, {open.circuit.name}, {open.conditions.name}</span
        ></summary
      >
      {@render strip()}
    </details>
  {:else}{@render strip()}{/if}
{/if}

<style>
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
    min-width: 180px;
  }
  .compare {
    flex: 2;
    min-width: 150px;
  }
  .owner:hover .name {
    text-decoration: underline;
  }
  .pinned {
    color: var(--ink);
    border: 1px solid var(--ink);
    padding: 0 4px;
    line-height: 1.1;
  }
  .facts .figure {
    font-size: 17px;
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
