<script lang="ts">
  import { onDestroy, untrack } from 'svelte'
  import { answer, client, type CircuitEdit, type SurveyReport } from '../api/client'
  import Tabs from '../parts/Tabs.svelte'
  import { CIRCUIT_TABS } from '../state/places'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import TrackMap from '../lap/TrackMap.svelte'
  import { lapTime, timeDifference } from '../parts/format'
  import ClosureReadout from './ClosureReadout.svelte'
  import EdgesSheet from './EdgesSheet.svelte'
  import HeightsSheet from './HeightsSheet.svelte'
  import InAndOut from './InAndOut.svelte'
  import LayoutsPart from './LayoutsPart.svelte'
  import NotesSheet from './NotesSheet.svelte'
  import RoadsideSheet from './RoadsideSheet.svelte'
  import SurveyMap from './SurveyMap.svelte'
  import SegmentSheet from './SegmentSheet.svelte'
  import WholeSheet from './WholeSheet.svelte'
  import { CircuitEdits } from './edits.svelte'

  /** The circuit as a survey: the sheet of straights and corners beside the map it draws. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  // svelte-ignore state_referenced_locally
  const edits = new CircuitEdits(bench)
  onDestroy(() => void edits.leave())
  const panel = $derived(view.circuitTab)
  let survey = $state.raw<SurveyReport | null>(null)
  let mapWidth = $state(420)
  let sheetWidth = $state(820)
  const circuit = $derived(bench.open?.plan.circuit ?? null)
  const segments = $derived(circuit?.segments ?? [])
  const chosen = $derived(survey?.names[view.segment] ?? 'this part')

  $effect(() => {
    const asked = circuit
    untrack(async () => {
      if (!asked) return
      if (view.segment >= (asked.segments?.length ?? 0)) view.segment = 0
      const { data } = await answer(client.POST('/api/survey', { body: asked }))
      if (data && asked === circuit) survey = data
    })
  })

  // A corner selected on the map or by a key is selected in the sheets as well.
  let seen: number | null = null
  $effect(() => {
    const corner = view.corner
    untrack(() => {
      if (corner === seen) return
      seen = corner
      const numbers = segments.flatMap((one, index) => (one.kind === 'corner' ? [index] : []))
      const index = corner === null ? undefined : numbers[corner]
      if (index !== undefined) view.segment = index
    })
  })

  async function dragged(number: number, outwards_m: number, along_m: number): Promise<void> {
    const corners = segments.flatMap((one, index) => (one.kind === 'corner' ? [index] : []))
    const segment = corners[number]
    if (segment !== undefined) await edits.make({ op: 'drag', segment, outwards_m, along_m })
  }

  const straight = { kind: 'straight' as const, length_m: 100, grade_pct: 0, grip_factor: 1 }
  function corner(direction: 'left' | 'right') {
    const count = segments.filter((segment) => segment.kind === 'corner').length
    return {
      kind: 'corner' as const,
      name: `T${count + 1}`,
      direction,
      radius_m: 50,
      angle_deg: 60,
      transition_m: 0,
      banking_deg: 0,
      grade_pct: 0,
      grip_factor: 1,
    }
  }

  async function add(segment: ReturnType<typeof corner> | typeof straight): Promise<void> {
    const before = view.segment + 1
    const edit = { op: 'add', before, segment } as CircuitEdit
    if (await edits.make(edit)) view.segment = before
  }
</script>

{#if circuit?.segments}
  <div class="page pt-1.5 gap-5.5 flex narrow:flex-col-reverse">
    <div class="flex-1 min-w-0">
      <Tabs
        id="circuit"
        label="Parts of the circuit"
        tabs={CIRCUIT_TABS}
        chosen={panel}
        choose={(tab) => (view.circuitTab = tab)}
      />
      {#if panel === 'sheet' || panel === 'uncertainties'}
        <div
          class="px-0 pt-0.75 pb-1.5 gap-x-3.25 gap-y-0.5 flex flex-wrap items-baseline min-h-7.5"
          role="toolbar"
          aria-label="Edit the sheet"
        >
          <span class="unit">After <span class="place text-[15px] text-ink">{chosen}</span></span>
          <button class="link" onclick={() => void add(straight)}>Add straight</button>
          <button class="link" onclick={() => void add(corner('left'))}>Add left</button>
          <button class="link" onclick={() => void add(corner('right'))}>Add right</button>
          <button
            class="link"
            onclick={() => void edits.make({ op: 'split', segment: view.segment, share: 0.5 })}
            >Split</button
          >
          <button
            class="link ember"
            disabled={segments.length < 2}
            onclick={() => void edits.make({ op: 'remove', segment: view.segment })}
            aria-label="Remove this part">Remove</button
          >
          <button class="link" onclick={() => (view.sheet = 'radius')}>Measure radius</button>
          <button
            class="link"
            onclick={() => void edits.make({ op: 'merge', segment: view.segment })}
            >Merge with next</button
          >
          <button class="link" onclick={() => void edits.make({ op: 'renumber' })}>Renumber</button>
          <button class="link" onclick={() => void edits.make({ op: 'reverse' })}
            >Reverse direction</button
          >
        </div>
      {/if}
      <!-- What scrolls must take the keys. -->
      <div
        class="sheet"
        bind:clientWidth={sheetWidth}
        id="circuit-panel"
        role="tabpanel"
        aria-labelledby="circuit-tab-{panel}"
        tabindex="0"
      >
        {#if panel === 'roadside'}
          <RoadsideSheet {view} {circuit} {survey} {edits} />
        {:else if panel === 'heights'}
          <HeightsSheet {view} {circuit} {survey} {edits} width={sheetWidth} />
        {:else if panel === 'edges'}
          <EdgesSheet {view} {circuit} {survey} {edits} />
        {:else if panel === 'notes'}
          <NotesSheet {view} {circuit} {edits} />
        {:else if panel === 'whole'}
          <WholeSheet {bench} {view} {circuit} {edits} />
          <LayoutsPart {bench} />
        {:else}
          <SegmentSheet
            {bench}
            {view}
            {circuit}
            {survey}
            {edits}
            uncertain={panel === 'uncertainties'}
          />
        {/if}
      </div>
    </div>
    <div class="flex-none w-96 narrow:w-full" bind:clientWidth={mapWidth}>
      {#if bench.result}
        <p class="lap gap-2.5 flex items-baseline">
          <span class="figure text-[28px]">{lapTime(bench.result.lap_time_s)}</span>
          {#if bench.comparison}<span class="figure text-[18px]"
              >{timeDifference(bench.comparison.lap_s)}</span
            ><span class="unit">against the baseline</span>{:else}<span class="unit"
              >the lap of this plan on it</span
            >{/if}
        </p>
        {#if (panel === 'roadside' || panel === 'edges') && survey?.road}
          <SurveyMap
            road={survey.road}
            {circuit}
            lengths={survey.lengths_m}
            {view}
            {edits}
            painting={panel === 'edges'}
            width={Math.max(mapWidth, 280)}
            height={Math.min(Math.max(mapWidth * 0.86, 240), 376)}
          />
        {:else}
          <TrackMap
            result={bench.result}
            {view}
            named
            drag={(number, outwards_m, along_m) => void dragged(number, outwards_m, along_m)}
            closed={circuit.closed}
            northDeg={circuit.north_deg ?? 0}
            windFromDeg={bench.figure('wind_from_deg') ?? 0}
            windMs={bench.figure('wind_speed_ms') ?? 0}
            width={Math.max(mapWidth, 280)}
            height={Math.min(Math.max(mapWidth * 0.86, 240), 376)}
          />
        {/if}
      {/if}
      <ClosureReadout {view} report={survey?.closure ?? null} closed={circuit.closed ?? true} />
      {#if bench.open}<InAndOut {view} planId={bench.open.id} />{/if}
    </div>
  </div>
{:else}
  <p class="stations px-0 py-10 text-[15px]">
    This circuit is a measured path of stations, not straights and corners; there is no sheet to
    edit.
  </p>
{/if}

<style>
  .sheet {
    position: relative;
    max-height: calc(100vh - 262px);
    min-height: 260px;
    overflow: auto;
    border-bottom: 1px solid var(--ink);
  }
</style>
