<script lang="ts">
  import { untrack } from 'svelte'
  import type { Result } from '../api/client'
  import type { Weather } from '../conditions/weather.svelte'
  import Tabs from '../parts/Tabs.svelte'
  import { RACE_TABS } from '../state/places'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import EnergyPart from './EnergyPart.svelte'
  import FuelPart from './FuelPart.svelte'
  import LanesPart from './LanesPart.svelte'
  import PassingPart from './PassingPart.svelte'
  import RaceSheet from './RaceSheet.svelte'
  import StopsPart from './StopsPart.svelte'
  import WaterPart from './WaterPart.svelte'
  import WorkPart from './WorkPart.svelte'

  /** The race desk: laps, fuel, stops, tyres, water, energy and passing, and all of it on a sheet. */
  let {
    bench,
    view,
    studies,
    weather,
    result,
  }: {
    bench: Workbench
    view: View
    studies: Studies
    weather: Weather
    result: Result
  } = $props()

  let width = $state(1200)
  const now = $derived(studies.now)
  const race = $derived(studies.jobs.race?.race ?? null)

  // Whatever the race hangs on, it is planned anew; laps are driven only where they are not known.
  $effect(() => {
    const mark = `${studies.raceMark}|${weather.mark}|${view.system}|${JSON.stringify(now)}`
    untrack(() => {
      if (studies.along.race === mark) return
      studies.along.race = mark
      void studies.race(now ?? {})
    })
  })
</script>

<div class="tabs print:hidden">
  <Tabs
    id="race"
    label="Parts of the race"
    tabs={RACE_TABS}
    chosen={view.raceTab}
    choose={(tab) => (view.raceTab = tab)}
  />
</div>
<!-- What scrolls must take the keys. -->
<div
  class="brief"
  id="race-panel"
  role="tabpanel"
  aria-labelledby="race-tab-{view.raceTab}"
  tabindex="0"
  bind:clientWidth={width}
>
  {#if studies.trouble}<p role="alert" class="trouble pt-1.5 text-[15px]">{studies.trouble}</p>{/if}
  {#if view.raceTab === 'fuel'}
    <FuelPart {bench} {view} {studies} {race} {width} />
  {:else if view.raceTab === 'stops'}
    <StopsPart {bench} {view} {studies} {race} {width} />
  {:else if view.raceTab === 'water'}
    <WaterPart {bench} {studies} {weather} {race} {width} />
  {:else if view.raceTab === 'energy'}
    <EnergyPart {bench} {view} {studies} {result} {width} />
  {:else if view.raceTab === 'passing'}
    <PassingPart {bench} {view} {studies} />
  {:else if view.raceTab === 'tyres'}
    <WorkPart {bench} {view} {studies} {race} />
  {:else if view.raceTab === 'lanes'}
    <LanesPart {bench} {view} {studies} {result} {width} />
  {:else}
    <RaceSheet {bench} {view} {studies} {weather} {race} {width} />
  {/if}
</div>
