<script lang="ts">
  import { onDestroy, untrack } from 'svelte'
  import type { Result } from '../api/client'
  import Tabs from '../parts/Tabs.svelte'
  import { standing } from '../state/bands.svelte'
  import { DRILL_TABS } from '../state/places'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import BeforePart from './BeforePart.svelte'
  import { Drill } from './drill.svelte'
  import RecallPart from './RecallPart.svelte'
  import RunPart from './RunPart.svelte'
  import SitsPart from './SitsPart.svelte'

  /** The lap learned by heart: recalled, run in real time, gone over before the car, and how it sits. */
  let { bench, view, result }: { bench: Workbench; view: View; result: Result } = $props()

  // svelte-ignore state_referenced_locally
  const drill = new Drill(bench)

  // Only another plan or other units end a round, not whatever else is told of the plan.
  const asked = $derived(`${standing(bench)}/${view.system}`)
  $effect(() => {
    void asked
    untrack(() => {
      drill.stop()
      void drill.load()
    })
  })
  // How it sits is asked anew wherever it is looked at.
  $effect(() => {
    void view.drillTab
    untrack(() => void drill.load())
  })
  onDestroy(() => (view.ownKeys = null))
</script>

<div
  class="head pt-1 gap-x-4.5 gap-y-0.5 border-b border-b-rule flex flex-wrap justify-between print:hidden"
>
  <Tabs
    id="drill"
    label="Parts of the drill"
    tabs={DRILL_TABS}
    chosen={view.drillTab}
    choose={(tab) => (view.drillTab = tab)}
  />
  <div class="gap-x-4.5 gap-y-0.5 flex flex-wrap items-baseline text-[14px]">
    <label
      >Lap <select
        aria-label="Which lap is drilled"
        value={drill.lap}
        onchange={(event) => void drill.turnTo(event.currentTarget.value)}
      >
        {#each drill.standing?.laps ?? [] as one (one.value)}
          <option value={one.value}>{one.label}</option>
        {/each}
      </select></label
    >
    <label
      >Driver <input
        class="dotted-below w-27.5 font-figures text-[15px] font-semibold bg-transparent"
        type="text"
        aria-label="Driver"
        list="drill-drivers"
        placeholder="no name"
        maxlength="60"
        value={drill.driver}
        onchange={(event) => void drill.be(event.currentTarget.value)}
      /></label
    >
    <datalist id="drill-drivers">
      {#each drill.standing?.drivers ?? [] as name (name)}<option value={name}></option>{/each}
    </datalist>
  </div>
</div>
{#if drill.trouble}<p role="alert" class="trouble pt-1.5 text-[15px]">{drill.trouble}</p>{/if}
<!-- What scrolls must take the keys. -->
<div
  id="drill-panel"
  class:brief={view.drillTab === 'before'}
  role="tabpanel"
  aria-labelledby="drill-tab-{view.drillTab}"
  tabindex="0"
>
  {#if view.drillTab === 'run'}
    <RunPart {bench} {view} {drill} />
  {:else if view.drillTab === 'before'}
    <BeforePart {bench} {view} {drill} />
  {:else if view.drillTab === 'sits'}
    <SitsPart {bench} {view} {drill} />
  {:else}
    <RecallPart {view} {drill} {result} />
  {/if}
</div>

<style>
  .head :global(.tabs) {
    border-bottom: 0;
  }
</style>
