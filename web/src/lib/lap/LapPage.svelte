<script lang="ts">
  import type { Workbench } from '../state/workbench.svelte'
  import type { View } from '../state/view.svelte'
  import type { Result } from '../api/client'
  import CornerRows from './CornerRows.svelte'
  import CornerTable from './CornerTable.svelte'
  import LapSummary from './LapSummary.svelte'
  import SpeedCurve from './SpeedCurve.svelte'
  import Staff from './Staff.svelte'
  import TrackMap from './TrackMap.svelte'

  /** The predicted lap: curve, table, map and lap time, all with one cursor. */
  let {
    bench,
    view,
    result,
    fontsReady,
  }: { bench: Workbench; view: View; result: Result; fontsReady: boolean } = $props()

  const NAMES = 218
  const SUM = 86
  const STAFF = 40
  const NARROWEST_COLUMN = 78
  let width = $state(1232)
  const narrow = $derived(width < 700)
  const opened = $derived(bench.changed ? bench.opened : null)
  const count = $derived(result.corners.length)
  const columnWidth = $derived(
    Math.max(NARROWEST_COLUMN, Math.floor((width - NAMES - SUM) / Math.max(count, 1))),
  )
  // On a phone the curve keeps a readable width and scrolls.
  const curveWidth = $derived(narrow ? Math.max(width, 820) : width - NAMES)
  const curveHeight = $derived(narrow ? 260 : 306)
  // With more columns than fit, the table scrolls under the curve and no leader would meet it.
  const fits = $derived(!narrow && columnWidth * count + NAMES + SUM <= width + 1)
  const columnX = $derived(
    fits ? result.corners.map((_, index) => columnWidth * (index + 0.5)) : [],
  )
  const conditions = $derived(bench.plan?.conditions)
</script>

<div class="page" bind:clientWidth={width}>
  <div class="upper" class:narrow>
    <div class="side">
      <LapSummary {bench} {result} />
      <TrackMap
        {result}
        {view}
        northDeg={bench.plan?.circuit.north_deg ?? 0}
        windFromDeg={conditions?.wind_from_deg ?? 0}
        windMs={conditions?.wind_speed_ms ?? 0}
        height={narrow ? 170 : 132}
        width={narrow ? Math.min(width, 340) : 174}
      />
    </div>
    {#if !narrow}<div class="staff" style:width="{STAFF}px">
        <Staff {result} {opened} height={curveHeight} />
      </div>{/if}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div
      class="curve"
      class:scroll={narrow}
      style:width="{narrow ? width : curveWidth}px"
      role={narrow ? 'region' : undefined}
      aria-label={narrow ? 'Speed along the lap' : undefined}
      tabindex={narrow ? 0 : undefined}
    >
      <SpeedCurve
        {result}
        {opened}
        {view}
        width={curveWidth}
        height={curveHeight}
        {columnX}
        {fontsReady}
      />
    </div>
  </div>
  {#if narrow}
    <CornerRows {bench} {view} {result} {opened} />
  {:else}
    <!-- A region that scrolls must take the keys. -->
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="scroll" role="region" aria-label="Corners of the lap" tabindex="0">
      <CornerTable {bench} {view} {result} {opened} {columnWidth} />
    </div>
  {/if}
  {#if result.warnings.length > 0}
    <ul class="notes" aria-label="Notes on this lap">
      {#each result.warnings as warning (warning)}
        <li>{warning}</li>
      {/each}
    </ul>
  {/if}
</div>

<style>
  .upper {
    display: flex;
    padding-top: 4px;
  }
  .upper.narrow {
    flex-direction: column;
  }
  .side {
    width: 178px;
    position: relative;
    flex: none;
    height: 306px;
  }
  .narrow .side {
    width: 100%;
    height: auto;
  }
  .staff {
    flex: none;
    margin-left: 0;
  }
  .curve {
    position: relative;
    flex: none;
  }
  .scroll {
    overflow-x: auto;
    overflow-y: visible;
  }
  .notes {
    padding: 5px 0;
    list-style: square inside;
    color: var(--ink);
  }
</style>
