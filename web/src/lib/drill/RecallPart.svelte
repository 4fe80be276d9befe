<script lang="ts">
  import type { Result } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Drill, Asked, Order } from './drill.svelte'
  import GrowingMap from './GrowingMap.svelte'
  import QuestionCard from './QuestionCard.svelte'
  import RoundDone from './RoundDone.svelte'

  /** A round of questions: chosen, asked one at a time, and what came of it. */
  let { view, drill, result }: { view: View; drill: Drill; result: Result } = $props()

  const standing = $derived(drill.standing)
  const mapped = $derived(drill.running && drill.order === 'map')

  $effect(() => {
    view.ownKeys = (event) => {
      if (drill.running) return false
      if (event.key !== 'Enter' || (event.target as HTMLElement).closest('button, a, select'))
        return false
      void drill.begin()
      return true
    }
  })
</script>

{#if drill.over}
  <RoundDone {drill} {view} />
{:else if drill.question}
  <div class="asked" class:mapped>
    {#if mapped}<GrowingMap {drill} {result} />{/if}
    {#key drill.at}<QuestionCard {drill} {view} question={drill.question} narrow={mapped} />{/key}
  </div>
{:else}
  <section class="choose">
    {#if standing}
      <p class="figure said" data-testid="drill-said">{standing.said}</p>
      <p class="unit">
        {standing.back} to come back now, {standing.new} not asked yet.
      </p>
    {:else if !drill.trouble}
      <p class="unit">The plan’s bands are being driven…</p>
    {/if}
    <div class="ways">
      <label
        ><span>In which order</span>
        <select
          aria-label="In which order"
          value={drill.order}
          onchange={(event) => (drill.order = event.currentTarget.value as Order)}
        >
          {#each standing?.orders ?? [] as one (one.value)}
            <option value={one.value}>{one.label}</option>
          {/each}
        </select></label
      >
      <label
        ><span>What is asked</span>
        <select
          aria-label="What is asked"
          value={drill.asked}
          disabled={drill.order === 'map'}
          onchange={(event) => (drill.asked = event.currentTarget.value as Asked)}
        >
          {#each standing?.asks ?? [] as one (one.value)}
            <option value={one.value}>{one.label}</option>
          {/each}
        </select></label
      >
      <label class="check"
        ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={drill.missing} /> the board
        that one brakes by is missing</label
      >
    </div>
    <button
      class="btn btn-primary"
      disabled={!standing || drill.busy}
      onclick={() => void drill.begin()}>Begin</button
    >
    <p class="unit note">
      An answer inside the plan’s band is right. Later on the brakes, faster in the corner and
      sooner on the throttle are the dangerous side, and are marked as such.
    </p>
  </section>
{/if}

<style>
  .asked.mapped {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    gap: 24px;
  }
  .choose {
    display: grid;
    gap: 14px;
    justify-items: start;
    max-width: 620px;
    padding: 34px 0;
    margin: 0 auto;
  }
  .said {
    font-size: 22px;
    line-height: 1.25;
  }
  .unit {
    font-size: 15px;
  }
  .ways {
    display: grid;
    gap: 10px;
    font-size: 16px;
  }
  .ways label {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    align-items: baseline;
  }
  .ways span {
    min-width: 130px;
    color: var(--ink-2);
  }
  .ways select {
    font-family: var(--figures);
    font-size: 17px;
    font-weight: 600;
    max-width: 100%;
  }
  .check {
    align-items: center;
  }
  .note {
    font-size: 14px;
  }
  @media (max-width: 900px) {
    .asked.mapped {
      grid-template-columns: minmax(0, 1fr);
    }
    .choose {
      padding: 18px 0;
    }
  }
</style>
