<script lang="ts">
  import type { Result } from '../api/client'
  import type { Workbench } from '../state/workbench.svelte'
  import type { View } from '../state/view.svelte'
  import { parts } from '../later'
  import Later from '../parts/Later.svelte'
  import { cornerWindow } from '../corner/window'
  import type { Bands } from '../state/bands.svelte'
  import CornerRows from './CornerRows.svelte'
  import CornerTable from './CornerTable.svelte'
  import LapSummary from './LapSummary.svelte'
  import SpeedCurve from './SpeedCurve.svelte'
  import Staff from './Staff.svelte'
  import TableTools from './TableTools.svelte'
  import TrackMap from './TrackMap.svelte'

  /** The predicted lap: curve, table, map and lap time, all with one cursor. */
  let {
    bench,
    view,
    result,
    bands,
  }: {
    bench: Workbench
    view: View
    result: Result
    bands: Bands
  } = $props()

  const notes = $derived(bench.words?.notes ?? [])

  const NAMES = 218
  const SUM = 86
  const STAFF = 40
  const NARROWEST_COLUMN = 78
  /** Where less than this is left beside the curve [px] the map is only a sheet of its own. */
  const MAP_LEAST = 84
  let width = $state(1232)
  let mapHeight = $state(140)
  const narrow = $derived(width < 700)
  const comparison = $derived(bench.comparison)
  const count = $derived(result.corners.length)
  const columnWidth = $derived(
    Math.max(NARROWEST_COLUMN, Math.floor((width - NAMES - SUM) / Math.max(count, 1))),
  )
  const chosen = $derived(view.corner === null ? undefined : result.corners[view.corner])
  const opened = $derived(view.cornerOpen && chosen !== undefined)
  // On a phone the curve keeps a readable width and scrolls.
  const curveWidth = $derived(narrow ? Math.max(width, 820) : width - NAMES)
  const curveHeight = $derived(narrow ? 270 : opened ? 246 : 292)
  // With more columns than fit, the table scrolls under the curve and no leader would meet it.
  const fits = $derived(!narrow && columnWidth * count + NAMES + SUM <= width + 1)
  const columnX = $derived(
    fits && !opened ? result.corners.map((_, index) => columnWidth * (index + 0.5)) : [],
  )
  const frame = $derived({
    width: curveWidth,
    top: count >= 15 ? 84 : 68,
    base: curveHeight - (comparison?.time_s ? 62 : 40) - (columnX.length === 0 ? 6 : 0),
    under: count >= 15 ? 64 : 57,
  })
  const circuit = $derived(bench.open?.plan.circuit)
</script>

<div class="page" bind:clientWidth={width}>
  <div class="upper pt-1 flex" class:narrow style:--height="{curveHeight}px">
    <div class="side pr-1.5 flex-none w-44.5 relative h-[var(--height)] flex flex-col">
      <LapSummary {bench} {view} {result} {comparison} bands={bands.now} />
      <!-- Beside an open corner there is its own map. -->
      <div
        class="flex-1 overflow-hidden min-h-0"
        class:hidden={opened && !narrow}
        bind:clientHeight={mapHeight}
      >
        {#if narrow || mapHeight >= MAP_LEAST}
          <TrackMap
            {result}
            {view}
            closed={circuit?.closed ?? true}
            northDeg={circuit?.north_deg ?? 0}
            windFromDeg={bench.figure('wind_from_deg') ?? 0}
            windMs={bench.figure('wind_speed_ms') ?? 0}
            height={narrow ? 170 : mapHeight - 17}
            width={narrow ? Math.min(width, 340) : 176}
          />
        {/if}
        <button
          class="block text-cool underline cursor-pointer leading-[1.2]"
          onclick={() => (view.sheet = 'map')}
          >Larger map<span class="sr-only"> with corner names</span></button
        >
      </div>
    </div>
    {#if !narrow}<div class="ml-0 flex-none" style:width="{STAFF}px">
        <Staff {result} {comparison} {frame} height={curveHeight} units={view.units} />
      </div>{/if}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div
      class="flex-none relative"
      class:scroll={narrow}
      style:width="{narrow ? width : curveWidth}px"
      role={narrow ? 'region' : undefined}
      aria-label={narrow ? 'Speed along the lap' : undefined}
      tabindex={narrow ? 0 : undefined}
    >
      <SpeedCurve
        {result}
        words={bench.words}
        {comparison}
        {view}
        {frame}
        height={curveHeight}
        {columnX}
        bands={bands.now}
        flare={opened && chosen && !narrow
          ? { ...cornerWindow(chosen, result), left: -NAMES }
          : null}
      />
    </div>
  </div>
  {#if opened}
    <Later load={parts.corner} props={{ bench, view, result, bands: bands.now, width }} />
  {:else if narrow}
    <TableTools {bench} {view} />
    <CornerRows {bench} {view} {result} {comparison} />
  {:else}
    <!-- A region that scrolls must take the keys. -->
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="scroll" role="region" aria-label="Corners of the lap" tabindex="0">
      <CornerTable {bench} {view} {result} {comparison} {columnWidth} bands={bands.now} />
    </div>
  {/if}
  {#if notes.length > 0}
    <ul class="px-0 pt-1 pb-0 list-inside list-[square] text-ink" aria-label="Notes on this lap">
      {#each notes as warning (warning)}
        <li>{warning}</li>
      {/each}
    </ul>
  {/if}
</div>

<style>
  .upper.narrow {
    flex-direction: column;
  }
  .narrow .side {
    width: 100%;
    height: auto;
  }
  .hidden {
    display: none;
  }
  .scroll {
    overflow-x: auto;
    overflow-y: visible;
  }
</style>
