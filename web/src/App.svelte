<script lang="ts">
  import { flushSync, onMount, untrack } from 'svelte'
  import SinceNotice from './lib/conditions/SinceNotice.svelte'
  import { Weather } from './lib/conditions/weather.svelte'
  import ClosingSheet from './lib/circuit/ClosingSheet.svelte'
  import RadiusSheet from './lib/circuit/RadiusSheet.svelte'
  import BandsSheet from './lib/sheets/BandsSheet.svelte'
  import PageHead from './lib/head/PageHead.svelte'
  import FirstLaps from './lib/lap/FirstLaps.svelte'
  import LapPage from './lib/lap/LapPage.svelte'
  import LapWords from './lib/lap/LapWords.svelte'
  import MapSheet from './lib/lap/MapSheet.svelte'
  import Legend from './lib/parts/Legend.svelte'
  import { parts, readAhead } from './lib/later'
  import Later from './lib/parts/Later.svelte'
  import Sheet from './lib/parts/Sheet.svelte'
  import PrintSheet from './lib/print/PrintSheet.svelte'
  import CompareSheet from './lib/sheets/CompareSheet.svelte'
  import HistorySheet from './lib/sheets/HistorySheet.svelte'
  import KeySheet from './lib/sheets/KeySheet.svelte'
  import PartSheet from './lib/sheets/PartSheet.svelte'
  import PlansSheet from './lib/sheets/PlansSheet.svelte'
  import StandoffSheet from './lib/sheets/StandoffSheet.svelte'
  import UnitsSheet from './lib/sheets/UnitsSheet.svelte'
  import StartPage from './lib/start/StartPage.svelte'
  import { Bands } from './lib/state/bands.svelte'
  import { keyHandler } from './lib/state/keys'
  import { placeShown, Travel } from './lib/state/travel.svelte'
  import { View } from './lib/state/view.svelte'
  import { Workbench } from './lib/state/workbench.svelte'
  import { Studies } from './lib/trade/studies.svelte'
  import PlanStrip from './lib/strip/PlanStrip.svelte'

  const bench = new Workbench()
  const view = new View()
  const bands = new Bands(bench, view)
  const studies = new Studies(bench)
  const weather = new Weather(bench)
  const travel = new Travel(bench, view)
  // What is said of the lap is said in the units that the page shows.
  $effect(() => {
    const system = view.system
    untrack(() => void bench.speakIn(system))
  })
  $effect(() => {
    void bench.open?.id
    untrack(() => void weather.load())
  })
  const keydown = keyHandler(bench, view)
  /** The sheet for paper is only laid out when the browser is about to print. */
  let printing = $state(false)

  onMount(() => {
    view.applyTheme()
    void travel.start().then(readAhead)
  })

  const here = $derived(placeShown(bench, view))
  $effect(() => {
    void here
    untrack(() => travel.write())
  })

  const shownPage = $derived(bench.open ? view.page : 'lap')

  /** The brief, the race, the debrief and what is unsure are laid out for paper themselves. */
  const forPaper = $derived(
    shownPage === 'brief' ||
      shownPage === 'race' ||
      (shownPage === 'drill' && view.drillTab === 'before') ||
      (shownPage === 'logbook' && view.logbookTab === 'debrief'),
  )

  const TITLES = {
    plan: 'Plans',
    car: 'Car',
    circuit: 'Circuit',
    conditions: 'Conditions',
    compare: 'Compare with',
    history: 'History of this plan',
    units: 'Units',
    keys: 'Keys',
    map: 'Map',
    words: 'The lap in words',
    first: 'First laps',
    bands: 'Uncertainty',
    closing: 'Closing the circuit',
    radius: 'Radius from a measurement',
    import: 'Import a circuit',
  }
  const WIDE = ['map', 'history', 'plan', 'words', 'first', 'closing', 'import']

  /** A plan file, or a file of points, dropped anywhere on the page. */
  async function drop(event: DragEvent): Promise<void> {
    const file = event.dataTransfer?.files[0]
    if (!file) return
    event.preventDefault()
    if (/\.(gpx|geojson|csv|txt|tsv)$/i.test(file.name)) {
      view.droppedFile = file
      if (bench.open) view.sheet = 'import'
      return
    }
    const faults = await bench.takeFile(file)
    if (faults.length > 0) bench.say(faults.join('; '))
  }

  async function takeBack(): Promise<void> {
    const undo = bench.notice?.undo
    bench.notice = null
    await undo?.()
  }
</script>

<svelte:window
  onkeydown={keydown}
  onpopstate={() => void travel.goByAddress()}
  onbeforeprint={() => flushSync(() => (printing = true))}
  onafterprint={() => (printing = false)}
  onpagehide={() => bench.settleAtOnce()}
  ondragover={(event) => event.preventDefault()}
  ondrop={(event) => void drop(event)}
/>
<svelte:document
  onvisibilitychange={() => {
    weather.listen()
    if (document.visibilityState === 'visible') void bench.catchUp()
    else {
      void bench.waitingEdits?.settle()
      void bench.settle()
    }
  }}
/>

<div
  class="sheet px-6 py-0 mx-auto my-0 max-w-450 min-h-[100vh] flex flex-col narrow:px-3.5 narrow:py-0"
  class:briefing={forPaper}
>
  <PageHead {bench} {view} />
  <main class="flex-1">
    <PlanStrip {bench} {view} />
    <SinceNotice {weather} {view} />
    {#if bench.trouble}<p role="alert" class="trouble px-0 py-2 text-[16px]">
        {bench.trouble}
      </p>{/if}
    {#if shownPage === 'circuit'}
      <Later load={parts.circuit} props={{ bench, view }} />
    {:else if shownPage === 'line'}
      <Later load={parts.line} props={{ bench, view }} />
    {:else if shownPage === 'car'}
      <Later load={parts.car} props={{ bench, view }} />
    {:else if shownPage === 'conditions' && bench.result}
      <Later
        load={parts.conditions}
        props={{ bench, view, studies, weather, result: bench.result }}
      />
    {:else if shownPage === 'trade' && bench.open}
      <Later load={parts.trade} props={{ bench, view, studies, weather }} />
    {:else if shownPage === 'race' && bench.result}
      <Later load={parts.race} props={{ bench, view, studies, weather, result: bench.result }} />
    {:else if shownPage === 'logbook' && bench.result}
      <Later load={parts.logbook} props={{ bench, view, result: bench.result }} />
    {:else if shownPage === 'drill' && bench.result}
      <Later load={parts.drill} props={{ bench, view, result: bench.result }} />
    {:else if shownPage === 'brief' && bench.result}
      <Later load={parts.brief} props={{ bench, view, result: bench.result }} />
    {:else if bench.result}
      <LapPage {bench} {view} result={bench.result} {bands} />
    {:else if bench.empty}
      <StartPage {bench} {view} />
    {:else if !bench.trouble}
      <p class="unit px-0 py-15">Calculating the lap…</p>
    {/if}
  </main>
  <Legend lap={bench.result !== null && shownPage === 'lap'} />
</div>

{#if bench.notice}
  <div class="notice" role="status">
    <span>{bench.notice.text}</span>
    {#if bench.notice.undo}<button class="link" onclick={() => void takeBack()}>Undo</button>{/if}
    <button class="link" onclick={() => (bench.notice = null)}>Dismiss</button>
  </div>
{/if}

{#if view.sheet}
  <Sheet
    open
    title={TITLES[view.sheet]}
    wide={WIDE.includes(view.sheet)}
    close={() => (view.sheet = null)}
  >
    {#if view.sheet === 'plan'}<PlansSheet {bench} {view} />
    {:else if view.sheet === 'compare'}<CompareSheet {bench} {view} />
    {:else if view.sheet === 'history'}<HistorySheet {bench} {view} />
    {:else if view.sheet === 'units'}<UnitsSheet {view} />
    {:else if view.sheet === 'keys'}<KeySheet />
    {:else if view.sheet === 'words' && bench.words}<LapWords words={bench.words} />
    {:else if view.sheet === 'first'}<FirstLaps {bench} {view} />
    {:else if view.sheet === 'bands'}<BandsSheet {bench} {view} bands={bands.now} />
    {:else if view.sheet === 'map'}<MapSheet {bench} {view} />
    {:else if view.sheet === 'closing'}<ClosingSheet {bench} {view} />
    {:else if view.sheet === 'radius'}<RadiusSheet {bench} {view} />
    {:else if view.sheet === 'import'}<Later load={parts.import} props={{ bench, view }} />
    {:else if view.sheet !== 'words'}<PartSheet {bench} {view} kind={view.sheet} />{/if}
  </Sheet>
{/if}
<StandoffSheet {bench} />
{#if printing && !forPaper}<PrintSheet {bench} {view} />{/if}

<style>
  .notice {
    position: fixed;
    left: 50%;
    bottom: 46px;
    transform: translateX(-50%);
    z-index: 30;
    display: flex;
    gap: 14px;
    max-width: 92vw;
    padding: 8px 14px;
    background: var(--leaf);
    border: 1px solid var(--ink);
    font-size: 15px;
  }
  @media print {
    .sheet:not(.briefing),
    .notice,
    .briefing > :global(header),
    .briefing > :global(footer),
    .briefing main > :global(:not(.brief)) {
      display: none;
    }
    .sheet.briefing {
      padding: 0;
      max-width: none;
      min-height: 0;
    }
  }
</style>
