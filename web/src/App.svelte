<script lang="ts">
  import { flushSync, onMount, untrack } from 'svelte'
  import CarPage from './lib/car/CarPage.svelte'
  import CircuitPage from './lib/circuit/CircuitPage.svelte'
  import ClosingSheet from './lib/circuit/ClosingSheet.svelte'
  import RadiusSheet from './lib/circuit/RadiusSheet.svelte'
  import LinePage from './lib/line/LinePage.svelte'
  import ImportSheet from './lib/imports/ImportSheet.svelte'
  import BandsSheet from './lib/sheets/BandsSheet.svelte'
  import BriefPage from './lib/brief/BriefPage.svelte'
  import FirstLaps from './lib/lap/FirstLaps.svelte'
  import LapPage from './lib/lap/LapPage.svelte'
  import LapWords from './lib/lap/LapWords.svelte'
  import MapSheet from './lib/lap/MapSheet.svelte'
  import Chevron from './lib/parts/Chevron.svelte'
  import Legend from './lib/parts/Legend.svelte'
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
  import { View } from './lib/state/view.svelte'
  import { planInAddress, Workbench } from './lib/state/workbench.svelte'
  import PlanStrip from './lib/strip/PlanStrip.svelte'

  const bench = new Workbench()
  const view = new View()
  const bands = new Bands(bench, view)
  // What is said of the lap is said in the units that the page shows.
  $effect(() => {
    const system = view.system
    untrack(() => void bench.speakIn(system))
  })
  const keydown = keyHandler(bench, view)
  /** The sheet for paper is only laid out when the browser is about to print. */
  let printing = $state(false)

  onMount(() => {
    view.applyTheme()
    void bench.start()
  })

  // On opening a plan the corner that was selected last is taken up again.
  let taken = 0
  $effect(() => {
    const open = bench.open
    const result = bench.result
    untrack(() => {
      if (!open || !result || open.id === taken) return
      taken = open.id
      view.takeUp(result)
    })
  })

  const PAGES = [
    { page: 'circuit', label: 'Circuit' },
    { page: 'line', label: 'Line' },
    { page: 'car', label: 'Car' },
    { page: 'lap', label: 'Lap' },
    { page: 'brief', label: 'Brief' },
  ] as const
  const shownPage = $derived(bench.open ? view.page : 'lap')

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
    first: 'The first laps',
    bands: 'What is uncertain',
    closing: 'What would close the ring',
    radius: 'Radius from a measurement',
    import: 'A circuit from a file',
  }
  const WIDE = ['map', 'history', 'plan', 'words', 'first', 'closing', 'import']

  function byAddress(): void {
    const wanted = planInAddress()
    if (wanted !== null && wanted !== bench.open?.id) void bench.show(wanted)
  }

  /** A plan file, or a file of points, dropped anywhere on the page. */
  async function drop(event: DragEvent): Promise<void> {
    const file = event.dataTransfer?.files[0]
    if (!file) return
    event.preventDefault()
    if (bench.open && /\.(gpx|geojson|csv|txt|tsv)$/i.test(file.name)) {
      view.droppedFile = file
      view.sheet = 'import'
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
  onhashchange={byAddress}
  onbeforeprint={() => flushSync(() => (printing = true))}
  onafterprint={() => (printing = false)}
  onpagehide={() => bench.settleAtOnce()}
  ondragover={(event) => event.preventDefault()}
  ondrop={(event) => void drop(event)}
/>
<svelte:document
  onvisibilitychange={() => {
    if (document.visibilityState === 'visible') void bench.catchUp()
    else {
      void bench.waitingEdits?.settle()
      void bench.settle()
    }
  }}
/>

<div class="sheet" class:briefing={shownPage === 'brief'}>
  <header>
    <div class="brand">
      <svg width="34" height="26" viewBox="0 0 34 26" aria-hidden="true">
        <g fill="none" stroke="var(--ink)" stroke-width="2">
          <path d="M1 15c5-6 10-6 16 0s11 6 16 0" />
          <path d="M1 22c5-5 10-5 16 0s11 5 16 0" stroke="var(--cool)" />
          <path d="M17 1v8M13.500 3l7 4M20.500 3l-7 4" stroke-width="1.500" />
        </g>
      </svg>
      <h1 class="figure">Neapfrost</h1>
    </div>
    <nav aria-label="Views">
      {#each PAGES as { page, label } (page)}
        <button
          aria-current={shownPage === page ? 'page' : undefined}
          disabled={!bench.open}
          onclick={() => view.turnTo(page)}>{label}</button
        >
      {/each}
    </nav>
    {#if bench.open}
      <button class="plan" onclick={() => (view.sheet = 'plan')}>
        <span class="unit">Plan</span>
        <span class="figure" data-testid="plan-name">{bench.open.name}</span>
        <Chevron />
        <span class="unit state" aria-live="polite"
          >{bench.saving ? 'keeping…' : bench.kept ? 'kept' : 'not kept yet'}</span
        >
      </button>
    {/if}
    <div class="tools">
      {#if bench.open}
        <button
          disabled={!bench.open.undo}
          title={bench.open.undo ?? 'Nothing to undo'}
          onclick={() => void bench.undo()}>Undo</button
        >
        <button
          disabled={!bench.open.redo}
          title={bench.open.redo ?? 'Nothing to redo'}
          onclick={() => void bench.redo()}>Redo</button
        >
        <button onclick={() => (view.sheet = 'history')}>History</button>
      {/if}
      <button onclick={() => (view.sheet = 'units')}
        ><span class="sr-only">Units: </span>{view.units.speedUnit}, {view.units.lengthUnit}</button
      >
      <button onclick={() => view.toggleTheme()}>{view.night ? 'Day' : 'Night'}</button>
      <button onclick={() => (view.sheet = 'keys')}>Keys <kbd class="kbd kbd-sm">?</kbd></button>
    </div>
  </header>
  <main>
    <PlanStrip {bench} {view} />
    {#if bench.trouble}<p role="alert" class="trouble">{bench.trouble}</p>{/if}
    {#if shownPage === 'circuit'}
      <CircuitPage {bench} {view} />
    {:else if shownPage === 'line'}
      <LinePage {bench} {view} />
    {:else if shownPage === 'car'}
      <CarPage {bench} {view} />
    {:else if shownPage === 'brief' && bench.result}
      <BriefPage {bench} {view} result={bench.result} />
    {:else if bench.result}
      <LapPage {bench} {view} result={bench.result} {bands} />
    {:else if bench.empty}
      <StartPage {bench} {view} />
    {:else if !bench.trouble}
      <p class="unit wait">The lap is being predicted…</p>
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
    {:else if view.sheet === 'import'}<ImportSheet {bench} {view} />
    {:else if view.sheet !== 'words'}<PartSheet {bench} {view} kind={view.sheet} />{/if}
  </Sheet>
{/if}
<StandoffSheet {bench} />
{#if printing && shownPage !== 'brief'}<PrintSheet {bench} {view} />{/if}

<style>
  .sheet {
    margin: 0 auto;
    padding: 0 24px;
    max-width: 1800px;
    min-height: 100vh;
    display: flex;
    flex-direction: column;
  }
  main {
    flex: 1;
  }
  header {
    display: flex;
    align-items: stretch;
    height: 46px;
    border-bottom: 3px double var(--ink);
  }
  .brand {
    display: flex;
    align-items: center;
    gap: 9px;
    width: 218px;
    flex: none;
  }
  h1 {
    font-size: 24px;
  }
  nav {
    display: flex;
    align-items: stretch;
  }
  nav button {
    display: flex;
    align-items: center;
    padding: 0 18px;
    font-size: 15px;
    font-weight: 600;
    margin-top: 8px;
    cursor: pointer;
  }
  nav button:disabled {
    cursor: default;
    color: var(--coast);
  }
  nav button[aria-current='page'] {
    background: var(--ink);
    color: var(--paper);
  }
  .plan {
    display: flex;
    gap: 8px;
    align-items: baseline;
    align-self: center;
    padding: 0 18px;
    min-width: 0;
    cursor: pointer;
    white-space: nowrap;
  }
  .plan .figure {
    font-size: 18px;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .plan:hover .figure {
    text-decoration: underline;
  }
  .tools {
    margin-left: auto;
    display: flex;
    gap: 16px;
    font-size: 14px;
    font-weight: 500;
    flex: none;
  }
  .tools button {
    cursor: pointer;
  }
  .tools button:disabled {
    color: var(--coast);
    cursor: default;
  }
  .trouble {
    color: var(--ember);
    padding: 8px 0;
    font-size: 16px;
  }
  .wait {
    padding: 60px 0;
  }
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
  .link {
    color: var(--cool);
    text-decoration: underline;
    cursor: pointer;
  }
  @media (max-width: 900px) {
    header {
      height: auto;
      flex-wrap: wrap;
      gap: 4px 0;
      padding: 6px 0;
    }
    nav button {
      margin-top: 0;
      padding: 4px 12px;
    }
    .plan {
      padding: 4px 0;
      order: 3;
      width: 100%;
      flex-wrap: wrap;
      white-space: normal;
      text-align: left;
    }
    .tools {
      flex-wrap: wrap;
      gap: 4px 14px;
    }
    .sheet {
      padding: 0 14px;
    }
    .brand {
      width: auto;
      margin-right: 14px;
    }
    h1 {
      font-size: 20px;
    }
  }
  @media print {
    .sheet:not(.briefing),
    .notice,
    .briefing > header,
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
