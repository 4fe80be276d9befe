<script lang="ts">
  import { untrack } from 'svelte'
  import type { Result } from '../api/client'
  import Tabs from '../parts/Tabs.svelte'
  import { CONDITIONS_TABS } from '../state/places'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import AlongSession from './AlongSession.svelte'
  import RecordPage from './RecordPage.svelte'
  import StationWord from './StationWord.svelte'
  import type { Weather } from './weather.svelte'
  import WhichWeather from './WhichWeather.svelte'
  import WindAtCorners from './WindAtCorners.svelte'

  /** The weather: along a session, several that may come, the wind at each corner, and its record. */
  let {
    bench,
    view,
    studies,
    weather,
    result,
  }: { bench: Workbench; view: View; studies: Studies; weather: Weather; result: Result } = $props()

  $effect(() => {
    void bench.open?.id
    untrack(() => void weather.loadRecords())
  })
</script>

<Tabs
  id="conditions"
  label="Parts of the conditions"
  tabs={CONDITIONS_TABS}
  chosen={view.conditionsTab}
  choose={(tab) => (view.conditionsTab = tab)}
>
  {#snippet beside()}<StationWord {weather} {view} />{/snippet}
</Tabs>
<div
  id="conditions-panel"
  role="tabpanel"
  aria-labelledby="conditions-tab-{view.conditionsTab}"
  tabindex="0"
>
  {#if weather.trouble}<p role="alert" class="trouble pt-1.5 text-[15px]">{weather.trouble}</p>{/if}
  {#if studies.trouble}<p role="alert" class="trouble pt-1.5 text-[15px]">{studies.trouble}</p>{/if}
  {#if view.conditionsTab === 'wind'}
    <WindAtCorners {bench} {view} {studies} {result} />
  {:else if view.conditionsTab === 'record'}
    <RecordPage {bench} {view} {weather} />
  {:else if !weather.now}
    <p class="unit px-0 py-10 text-[15px]">Loading the weather record…</p>
  {:else if !weather.record}
    <p class="px-0 py-10 text-[15px]">
      No weather record is chosen for this plan.
      <button class="link" onclick={() => (view.conditionsTab = 'record')}
        >Choose, type or import one, or use the station’s</button
      >
    </p>
  {:else if view.conditionsTab === 'weathers'}
    <WhichWeather {bench} {view} {studies} {weather} />
  {:else}
    <AlongSession {bench} {view} {studies} {weather} />
  {/if}
</div>
