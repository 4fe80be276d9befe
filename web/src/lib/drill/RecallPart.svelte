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
  <section
    class="px-0 py-8.5 mx-auto my-0 gap-3.5 grid justify-items-start max-w-155 narrow:px-0 narrow:py-4.5"
  >
    {#if standing}
      <p class="figure text-[22px] leading-[1.25]" data-testid="drill-said">{standing.said}</p>
      <p class="unit text-[15px]">
        {standing.back} due now, {standing.new} not asked yet.
      </p>
    {:else if !drill.trouble}
      <p class="unit text-[15px]">Calculating the plan’s bands…</p>
    {/if}
    <div class="gap-2.5 grid text-[16px]">
      <label class="gap-x-3 gap-y-1 flex flex-wrap items-baseline"
        ><span class="min-w-32.5 text-ink-2">Order</span>
        <select
          class="font-figures text-[17px] font-semibold max-w-full"
          aria-label="In which order"
          value={drill.order}
          onchange={(event) => (drill.order = event.currentTarget.value as Order)}
        >
          {#each standing?.orders ?? [] as one (one.value)}
            <option value={one.value}>{one.label}</option>
          {/each}
        </select></label
      >
      <label class="gap-x-3 gap-y-1 flex flex-wrap items-baseline"
        ><span class="min-w-32.5 text-ink-2">Questions</span>
        <select
          class="font-figures text-[17px] font-semibold max-w-full"
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
      <label class="gap-x-3 gap-y-1 flex flex-wrap items-baseline"
        ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={drill.missing} /> hide the
        braking board</label
      >
    </div>
    <button
      class="btn btn-primary"
      disabled={!standing || drill.busy}
      onclick={() => void drill.begin()}>Start</button
    >
    <p class="unit text-[14px]">
      An answer within the plan’s band is right. Later braking, more speed and earlier throttle are
      the dangerous side, and are marked.
    </p>
  </section>
{/if}

<style>
  .asked.mapped {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    gap: 24px;
  }
  @media (max-width: 900px) {
    .asked.mapped {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
