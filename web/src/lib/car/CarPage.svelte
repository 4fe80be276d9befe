<script lang="ts">
  import { untrack } from 'svelte'
  import Tabs from '../parts/Tabs.svelte'
  import { CAR_TABS } from '../state/places'
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
  const panel = $derived(view.carTab)

  // Whatever changes the car, the air or the setup changes what it does.
  $effect(() => {
    void bench.open
    void view.system
    untrack(() => void work.load())
  })
</script>

<Tabs
  id="car"
  label="Parts of the car"
  tabs={CAR_TABS}
  chosen={panel}
  choose={(tab) => (view.carTab = tab)}
/>
<!-- What scrolls must take the keys. -->
<div id="car-panel" role="tabpanel" aria-labelledby="car-tab-{panel}" tabindex="0">
  {#if panel === 'build'}
    <QuickBuild {bench} {view} />
  {:else if work.car && bench.open}
    {#if panel === 'does' && work.report}
      <CarReport report={work.report} {view} planId={bench.open.id} />
    {:else if panel === 'sheet'}
      <FullSheet {bench} {work} {view} planId={bench.open.id} />
    {:else if panel === 'setups'}
      <SetupsPart {bench} {view} {work} />
    {:else if panel === 'compare'}
      <SideBySide {bench} {work} {view} />
    {:else if panel === 'brakes'}
      <BrakesPart {bench} {work} {view} />
    {:else}
      <p class="unit px-0 py-10">Calculating the car…</p>
    {/if}
  {/if}
</div>
