<script lang="ts">
  import { untrack } from 'svelte'
  import type { Weather } from '../conditions/weather.svelte'
  import Tabs from '../parts/Tabs.svelte'
  import { TRADE_TABS } from '../state/places'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import EventPlans from './EventPlans.svelte'
  import Gears from './Gears.svelte'
  import OneFigure from './OneFigure.svelte'
  import TwoFigures from './TwoFigures.svelte'
  import WhatItHas from './WhatItHas.svelte'
  import Worth from './Worth.svelte'
  import type { Studies } from './studies.svelte'

  /** What to trade for what: a figure swept, two at once, and what a step of each is worth. */
  let {
    bench,
    view,
    studies,
    weather,
  }: { bench: Workbench; view: View; studies: Studies; weather: Weather } = $props()

  $effect(() => {
    void studies.mark
    untrack(() => void studies.load())
  })
</script>

<Tabs
  id="trade"
  label="Kinds of trade-off"
  tabs={TRADE_TABS}
  chosen={view.tradeTab}
  choose={(tab) => (view.tradeTab = tab)}
/>
<!-- What scrolls must take the keys. -->
<div id="trade-panel" role="tabpanel" aria-labelledby="trade-tab-{view.tradeTab}" tabindex="0">
  {#if studies.trouble}<p role="alert" class="trouble pt-1.5 text-[15px]">{studies.trouble}</p>{/if}
  {#if studies.axes.length === 0}
    <p class="unit px-0 py-10">Loading what can be varied…</p>
  {:else if view.tradeTab === 'one'}
    <OneFigure {bench} {view} {studies} />
  {:else if view.tradeTab === 'two'}
    <TwoFigures {bench} {view} {studies} />
  {:else if view.tradeTab === 'has'}
    <WhatItHas {view} {studies} {weather} />
  {:else if view.tradeTab === 'gears'}
    <Gears {view} {studies} />
  {:else if view.tradeTab === 'event'}
    <EventPlans {bench} {view} />
  {:else}
    <Worth {bench} {view} {studies} />
  {/if}
</div>
