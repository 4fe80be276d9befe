<script lang="ts">
  import { untrack } from 'svelte'
  import type { Result } from '../api/client'
  import Tabs from '../parts/Tabs.svelte'
  import { LOGBOOK_TABS } from '../state/places'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import DebriefPart from './DebriefPart.svelte'
  import LearnPart from './LearnPart.svelte'
  import { Learning } from './learning.svelte'
  import { Logbook } from './logbook.svelte'
  import PastPart from './PastPart.svelte'
  import { Readings } from './readings.svelte'
  import ReadingsPart from './ReadingsPart.svelte'
  import RunPart from './RunPart.svelte'
  import SeasonList from './SeasonList.svelte'
  import SimulatedPart from './SimulatedPart.svelte'
  import TogetherPart from './TogetherPart.svelte'

  /** What was driven, held against what was predicted: the season, a run, laps, and what they teach. */
  let { bench, view, result }: { bench: Workbench; view: View; result: Result } = $props()

  // svelte-ignore state_referenced_locally
  const book = new Logbook(bench, view)
  // svelte-ignore state_referenced_locally
  const learning = new Learning(bench)
  // svelte-ignore state_referenced_locally
  const readings = new Readings(bench, book)
  let width = $state(860)
  /** Loggers' files, and runs as this logbook writes them. */
  const LOGS =
    /(\.(csv|txt|tsv|log|gpx|mf4|mdf|dat|fit|nmea|parquet|arrow|feather|xlsx|xls|ods)|run\.json)$/i

  $effect(() => {
    void bench.open?.id
    void view.run
    void view.lap
    untrack(() => void book.load())
  })
  $effect(() => {
    void bench.open?.id
    untrack(() => void learning.load())
  })
  // What is said of a lap is said in the units of the page.
  let spoken = untrack(() => view.system)
  $effect(() => {
    const system = view.system
    untrack(() => {
      if (system !== spoken) void book.sayAgain()
      spoken = system
    })
  })
  $effect(() => {
    const wanted = view.logbookTab === 'together' && book.taken.length > 0 && !book.several
    if (wanted) untrack(() => void book.together())
  })

  function opened(field: HTMLInputElement): void {
    void readings.take(field.files ?? [])
    field.value = ''
  }
  function dropped(event: DragEvent): void {
    const files = [...(event.dataTransfer?.files ?? [])].filter((file) => LOGS.test(file.name))
    if (files.length === 0) return
    event.preventDefault()
    event.stopPropagation()
    void readings.take(files)
  }
</script>

<!-- Logs are dropped anywhere on the view. -->
<div
  class="page pt-2 gap-7 flex narrow:flex-col"
  class:opened={book.open !== null}
  class:brief={view.logbookTab === 'debrief'}
  role="region"
  aria-label="Logbook"
  ondrop={dropped}
>
  <div class="left flex-none w-67.5 narrow:w-full">
    <SeasonList {bench} {book} {view} />
    <p class="px-0 pt-2 pb-1 gap-4.5 flex">
      <label class="link file"
        >Import logger files…<input
          class="sr-only"
          type="file"
          multiple
          accept=".csv,.txt,.tsv,.log,.gpx,.json,.mf4,.mdf,.dat,.fit,.nmea,.parquet,.arrow,.feather,.xlsx,.xls,.ods"
          onchange={(event) => opened(event.currentTarget)}
        /></label
      >
      <button class="link" onclick={() => void book.begin()}>Type a run</button>
    </p>
    <SimulatedPart {book} />
    {#if book.working}<p role="status">{book.working}</p>{/if}
    {#if book.trouble}<p role="alert" class="trouble text-[15px]">{book.trouble}</p>{/if}
  </div>
  <div class="right flex-1 min-w-0" bind:clientWidth={width}>
    {#if readings.files.length > 0}<ReadingsPart {book} {readings} />{/if}
    <Tabs
      id="logbook"
      label="Parts of the logbook"
      tabs={LOGBOOK_TABS}
      chosen={view.logbookTab}
      choose={(tab) => (view.logbookTab = tab)}
    />
    <div
      id="logbook-panel"
      role="tabpanel"
      aria-labelledby="logbook-tab-{view.logbookTab}"
      tabindex="0"
    >
      {#if view.logbookTab === 'together'}
        <TogetherPart {book} {view} {result} />
      {:else if view.logbookTab === 'learn'}
        <LearnPart {book} {view} {learning} />
      {:else if view.logbookTab === 'past'}
        <PastPart {bench} {book} {view} {result} {width} />
      {:else if view.logbookTab === 'debrief'}
        <DebriefPart {book} {view} {width} />
      {:else}
        <RunPart {book} {view} {result} {width} />
      {/if}
    </div>
  </div>
</div>

<style>
  @media (max-width: 900px) {
    /* In the pit lane one types a run; the season stands under it. */
    .page.opened .left {
      order: 2;
    }
  }
  @media print {
    .left,
    .right > :global(.tabs) {
      display: none;
    }
  }
</style>
