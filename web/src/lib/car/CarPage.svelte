<script lang="ts">
  import { untrack } from 'svelte'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import BrakesPart from './BrakesPart.svelte'
  import CarReport from './CarReport.svelte'
  import FullSheet from './FullSheet.svelte'
  import QuickBuild from './QuickBuild.svelte'
  import SetupsPart from './SetupsPart.svelte'
  import SideBySide from './SideBySide.svelte'
  import { CarWork } from './work.svelte'

  /** The car: what it does, its sheet, its setups, two of them side by side, brakes; built anew. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  // svelte-ignore state_referenced_locally
  const work = new CarWork(bench)
  const PANELS = [
    { panel: 'does', label: 'What it does' },
    { panel: 'sheet', label: 'Full sheet' },
    { panel: 'setups', label: 'Setups' },
    { panel: 'compare', label: 'Side by side' },
    { panel: 'brakes', label: 'Brakes' },
    { panel: 'build', label: 'From what is known' },
  ] as const
  let panel = $state<(typeof PANELS)[number]['panel']>('does')

  // Whatever changes the car, the air or the setup changes what it does.
  $effect(() => {
    void bench.open
    void view.system
    untrack(() => void work.load())
  })
</script>

<div class="panels" role="tablist" aria-label="Parts of the car">
  {#each PANELS as one (one.panel)}
    <button
      role="tab"
      class="figure"
      id="car-tab-{one.panel}"
      aria-selected={panel === one.panel}
      aria-controls="car-panel"
      onclick={() => (panel = one.panel)}>{one.label}</button
    >
  {/each}
</div>
<!-- What scrolls must take the keys. -->
<div class="panel" id="car-panel" role="tabpanel" aria-labelledby="car-tab-{panel}" tabindex="0">
  {#if panel === 'build'}
    <QuickBuild {bench} {view} />
  {:else if work.car && bench.open}
    {#if panel === 'does' && work.report}
      <CarReport report={work.report} {view} planId={bench.open.id} />
    {:else if panel === 'sheet'}
      <FullSheet {bench} {work} {view} planId={bench.open.id} />
    {:else if panel === 'setups'}
      <SetupsPart {bench} {work} />
    {:else if panel === 'compare'}
      <SideBySide {bench} {work} {view} />
    {:else if panel === 'brakes'}
      <BrakesPart {bench} {work} {view} />
    {:else}
      <p class="unit wait">The car is being measured…</p>
    {/if}
  {/if}
</div>

<style>
  .panels {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 18px;
    border-bottom: 1px solid var(--rule);
    padding-top: 6px;
  }
  .panels button {
    font-size: 17px;
    cursor: pointer;
    color: var(--ink-2);
    padding-bottom: 2px;
  }
  .panels [aria-selected='true'] {
    color: var(--ink);
    box-shadow: inset 0 -3px 0 var(--ink);
  }
  .wait {
    padding: 40px 0;
  }
</style>
