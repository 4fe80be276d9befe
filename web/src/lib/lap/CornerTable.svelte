<script lang="ts">
  import type { Comparison, PlanBands, Result } from '../api/client'
  import type { Workbench } from '../state/workbench.svelte'
  import type { View } from '../state/view.svelte'
  import Arrow from '../parts/Arrow.svelte'
  import Disc from '../parts/Disc.svelte'
  import RadiusFigure from './RadiusFigure.svelte'
  import TableTools from './TableTools.svelte'
  import { plain, timeDifference, whole } from '../parts/format'

  /** One column a corner, read downwards in the order of the driver's actions. */
  let {
    bench,
    view,
    result,
    comparison,
    columnWidth,
    bands,
  }: {
    bench: Workbench
    view: View
    result: Result
    comparison: Comparison | null
    columnWidth: number
    bands: PlanBands | null
  } = $props()

  const radii = $derived(bench.assumptions?.radii_m ?? [])
  const braked = $derived(result.corners.filter((corner) => corner.action === 'brake'))
  const brakedMetres = $derived(
    braked.reduce((sum, corner) => sum + (corner.braking_distance_m ?? 0), 0),
  )
  const slowest = $derived(
    result.corners.reduce(
      (least, corner, index) =>
        corner.min_speed_ms < (result.corners[least]?.min_speed_ms ?? Infinity) ? index : least,
      0,
    ),
  )
  const units = $derived(view.units)
  const speed = (ms: number): string => whole(units.speed(ms))
  const length = (m: number): string => whole(units.length(m))
  /** Half of a band's width, in the units of the page: "±3". */
  const spread = (
    band: { low: number; high: number } | null | undefined,
    per: (x: number) => number,
  ) => (band && per(band.high - band.low) >= 1 ? `±${whole(per(band.high - band.low) / 2)}` : '')
  const against = $derived(comparison?.corners ?? null)
  const before = (index: number) => against?.[index] ?? null
  let table: HTMLTableElement

  // With more columns than fit, the selected one is brought into view.
  $effect(() => {
    if (view.corner !== null)
      table.rows[0]?.cells[view.corner + 1]?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  })
  /** A figure that opens to its arithmetic; by the keys the sheet's own list leads there. */
  function openWorking(index: number, of: string): void {
    view.select(result, index)
    view.openWorking(of)
  }
</script>

<table
  bind:this={table}
  style:--column="{columnWidth}px"
  style:--columns={result.corners.length}
  data-testid="corner-table"
>
  <thead>
    <tr>
      <th class="names tools" scope="col"
        ><span class="sr-only">Figure</span><TableTools {bench} {view} /></th
      >
      {#each result.corners as corner, index (index)}
        <th scope="col" class:chosen={view.corner === index}>
          <button
            class="head"
            aria-pressed={view.corner === index}
            title="Enter or a double click opens its sheet"
            onclick={() => view.select(result, index)}
            ondblclick={() => view.openCorner(result)}
          >
            <span class="number figure">
              <Disc
                direction={corner.direction}
                angleDeg={corner.angle_deg}
                inverted={view.corner === index}
              />
              {index + 1}
            </span>
            <span class="place name">{corner.name}</span>
          </button>
        </th>
      {/each}
      <th class="sum" scope="col">
        <span class="figure number">Lap</span><span class="place name">all corners</span>
      </th>
    </tr>
  </thead>
  <tbody>
    {#snippet opens(index: number, of: string, text: string, look: string)}
      <button
        class="figure opens {look}"
        tabindex="-1"
        title="Show the working"
        onclick={() => openWorking(index, of)}>{text}</button
      >
    {/snippet}
    {#snippet row(name: string, unit: string)}
      <th class="names" scope="row">
        <span class="figure">{name}</span><span class="unit">{unit}</span>
      </th>
    {/snippet}
    <tr class="short">
      {@render row('Radius', `${units.lengthUnit}, ${result.line ? 'of the road' : 'as driven'}`)}
      {#each result.corners as corner, index (index)}
        {@const radius = radii[index]}
        <td class:chosen={view.corner === index}>
          {#if radius !== undefined && radius !== null}
            <RadiusFigure
              {bench}
              {view}
              corner={corner.name}
              radius_m={radius}
              width="4.2ch"
              size="17px"
            />
          {/if}
        </td>
      {/each}
      <td class="sum">
        <span class="figure">{plain(units.length(result.length_m), 0)}</span>
        <span class="unit">{units.lengthUnit}</span>
      </td>
    </tr>
    <tr>
      {@render row('Reference', 'board or mark')}
      {#each result.corners as corner, index (index)}
        <td class:chosen={view.corner === index}>
          {#if corner.board_call}
            <span class="board figure" class:wide={corner.board_call.label.length > 4}
              >{corner.board_call.label}</span
            >
          {:else}
            <span class="place unit">none</span>
          {/if}
        </td>
      {/each}
      <td class="sum"></td>
    </tr>
    <tr class="tall">
      {@render row('Braking point', `${units.lengthUnit} from it`)}
      {#each result.corners as corner, index (index)}
        <td class:chosen={view.corner === index}>
          {#if corner.action === 'brake'}
            <span class="ember">
              {#if corner.board_call}
                {@render opens(
                  index,
                  'brake_start_to_corner_m',
                  length(corner.board_call.metres),
                  '',
                )}
                <span class="place">{corner.board_call.side}</span>
              {:else}
                <span class="figure">{length(Math.abs(corner.brake_start_to_corner_m ?? 0))}</span>
                <span class="place"
                  >{(corner.brake_start_to_corner_m ?? 0) < 0 ? 'in' : 'before'}</span
                >
              {/if}
            </span>
          {:else}
            <span class="place coast done">{bench.words?.corners[index]?.action ?? ''}</span>
          {/if}
          {#if against}
            <span class="moved" data-testid="brake-moved">{before(index)?.brake_moved ?? ''}</span>
          {:else if bands}
            <span class="moved band"
              >{spread(bands.corners[index]?.brake_start_to_corner_m, units.length)}</span
            >
          {/if}
        </td>
      {/each}
      <td class="sum">
        <span class="figure">{braked.length}</span> <span class="unit">points</span>
        <span class="moved" title="Brake energy per lap"
          >{(result.brake_energy_kj / 1000).toFixed(1)} MJ braking</span
        >
      </td>
    </tr>
    <tr class="short">
      {@render row('Braking distance', `${units.lengthUnit}, peak g`)}
      {#each result.corners as corner, index (index)}
        <td class:chosen={view.corner === index}>
          {#if corner.braking_distance_m !== null && corner.peak_decel_g !== null}
            {@render opens(index, 'braking_distance_m', length(corner.braking_distance_m), 'ember')}
            <span class="unit">{corner.peak_decel_g.toFixed(1)} g</span>
          {:else}
            <span class="place coast">no brake</span>
          {/if}
        </td>
      {/each}
      <td class="sum">
        <span class="figure">{length(brakedMetres)}</span>
        <span class="unit">{units.lengthUnit}</span>
      </td>
    </tr>
    <tr class="short">
      {@render row('Gear', 'from, to')}
      {#each result.corners as corner, index (index)}
        {@const moved = before(index)?.gear_moved ?? ''}
        {@const doubt = bands?.corners[index]?.gear_in_doubt ?? false}
        <td class:chosen={view.corner === index}>
          {#if corner.gear_before !== corner.gear}
            <button
              class="figure opens"
              tabindex="-1"
              title="Show the working"
              onclick={() => openWorking(index, 'gear')}
              >{corner.gear_before} <Arrow /> {corner.gear}</button
            >
          {:else}
            <span class="figure">{corner.gear}</span>
            {#if !moved}<span class="place unit">held</span>{/if}
          {/if}
          <span class:stacked={doubt && moved !== ''}>
            {#if doubt}
              <span class="unit band" title="The gear may differ within the band"
                >or {bands?.corners[index]?.gears
                  .filter((one) => one.gear !== corner.gear && one.share_pct >= 10)
                  .map((one) => one.gear)
                  .join(', ')}</span
              >
            {/if}
            <span class="unit">{moved}</span>
          </span>
        </td>
      {/each}
      <td class="sum">
        <span class="figure">{result.upshift_count + result.downshift_count}</span>
        <span class="unit">shifts</span>
      </td>
    </tr>
    <tr class="short">
      {@render row('Turn-in', `${units.speedUnit}, ${units.lengthUnit} to minimum`)}
      {#each result.corners as corner, index (index)}
        <td class:chosen={view.corner === index}>
          {@render opens(index, 'turn_in_speed_ms', speed(corner.turn_in_speed_ms), '')}
          <span class="unit"
            >{length(Math.max(corner.min_speed_at_m - corner.turn_in_at_m, 0))}
            {units.lengthUnit}</span
          >
        </td>
      {/each}
      <td class="sum">
        <span class="figure">{speed(result.mean_speed_ms)}</span> <span class="unit">mean</span>
      </td>
    </tr>
    <tr class="lowest">
      {@render row('Minimum speed', units.speedUnit)}
      {#each result.corners as corner, index (index)}
        <td class:chosen={view.corner === index}>
          {@render opens(index, 'min_speed_ms', speed(corner.min_speed_ms), 'least')}<span
            class="unit band">{spread(bands?.corners[index]?.min_speed_ms, units.speed)}</span
          >
          {#if against}<span class="moved">{before(index)?.speed_moved ?? ''}</span>{/if}
        </td>
      {/each}
      <td class="sum">
        <span class="figure least">{speed(result.corners[slowest]?.min_speed_ms ?? 0)}</span>
        <span class="unit">at {slowest + 1}</span>
      </td>
    </tr>
    <tr class="short">
      {@render row('Throttle', `${units.lengthUnit} after minimum, full`)}
      {#each result.corners as corner, index (index)}
        {@const after = (at: number) =>
          (((at - corner.min_speed_at_m) % result.length_m) + result.length_m) % result.length_m}
        <td class:chosen={view.corner === index}>
          {#if corner.throttle_at_m !== null}
            <span class="figure cool">{length(after(corner.throttle_at_m))}</span>
            {#if corner.full_throttle_at_m !== null}
              <span class="unit">full {length(after(corner.full_throttle_at_m))}</span>
            {/if}
          {:else if corner.grip_left_pct !== null}
            <span class="unit">{whole(corner.grip_left_pct)} % grip left</span>
          {:else}
            <span class="place coast">still braking</span>
          {/if}
        </td>
      {/each}
      <td class="sum">
        <span class="figure cool">{whole(result.full_throttle_pct)}%</span>
        <span class="unit">full</span>
      </td>
    </tr>
    <tr class="short">
      {@render row('Exit speed', units.speedUnit)}
      {#each result.corners as corner, index (index)}
        <td class:chosen={view.corner === index}>
          {@render opens(index, 'exit_speed_ms', speed(corner.exit_speed_ms), '')}
        </td>
      {/each}
      <td class="sum">
        <span class="figure">{speed(result.top_speed_ms)}</span> <span class="unit">top</span>
      </td>
    </tr>
    {#if against}
      <tr class="short" data-testid="time-row">
        {@render row('Against baseline', 's, to next lift')}
        {#each against as corner, index (index)}
          <td class:chosen={view.corner === index}>
            <span class="figure time">{timeDifference(corner.time_s)}</span>
          </td>
        {/each}
        <td class="sum">
          <span class="figure time">{timeDifference(comparison?.lap_s ?? 0)}</span>
        </td>
      </tr>
    {/if}
  </tbody>
</table>

<style>
  table {
    border-spacing: 0;
    /* Fixed columns want a width that is told: else every figure that changes is measured anew. */
    table-layout: fixed;
    --names: 218px;
    --sum: 86px;
    width: calc(var(--names) + var(--columns) * var(--column) + var(--sum));
  }
  th,
  td {
    width: var(--column);
    min-width: var(--column);
    max-width: var(--column);
    border-left: 1px solid var(--hair);
    text-align: center;
    vertical-align: middle;
    padding: 0 1px;
    height: 30px;
    white-space: nowrap;
    font-weight: 400;
    position: relative;
  }
  tbody tr > * {
    border-top: 1px solid var(--hair);
  }
  tbody tr:first-child > * {
    border-top: 1px solid var(--ink);
  }
  tbody tr:last-child > * {
    border-bottom: 1px solid var(--ink);
  }
  .names {
    width: var(--names);
    min-width: var(--names);
    max-width: var(--names);
    position: sticky;
    left: 0;
    z-index: 2;
    background: var(--paper);
    border-left: 0;
    text-align: left;
    padding-right: 14px;
  }
  .tools {
    vertical-align: bottom;
    padding-bottom: 4px;
  }
  tbody .names::after {
    content: '';
    position: absolute;
    inset: 0 -1px 0 auto;
    border-right: 1px solid var(--hair);
  }
  tbody .names .figure {
    font-size: 17px;
  }
  tbody .names .unit {
    float: right;
    line-height: 1.9;
  }
  .sum {
    width: var(--sum);
    min-width: var(--sum);
    border-left: 3px double var(--ink);
  }
  td .figure {
    font-size: 18px;
  }
  td .place {
    font-size: 15px;
  }
  .short > * {
    height: 28px;
  }
  td .time {
    font-size: 16px;
  }
  .tall > * {
    height: 39px;
    line-height: 1.1;
  }
  .lowest > * {
    height: 45px;
    line-height: 1;
    border-bottom: 1px solid var(--ink);
  }
  td .least {
    font-size: 27px;
  }
  .head {
    display: flex;
    flex-direction: column;
    align-items: center;
    width: 100%;
    height: 43px;
    padding-top: 1px;
    cursor: pointer;
  }
  .number {
    display: inline-flex;
    gap: 5px;
    align-items: center;
    font-size: 18px;
    line-height: 1.2;
  }
  .name {
    font-size: 15px;
    line-height: 1.15;
    overflow: hidden;
    text-overflow: ellipsis;
    max-width: 100%;
    display: block;
  }
  thead th {
    border-left: 0;
    height: 43px;
  }
  thead .chosen {
    background: var(--ink);
    color: var(--paper);
  }
  td.chosen {
    background: var(--wash);
  }
  .board {
    border: 1.4px solid var(--ink);
    padding: 0 7px;
    background: var(--leaf);
    font-size: 16px !important;
    line-height: 1.3;
    display: inline-block;
    max-width: 100%;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .wide {
    font-style: italic;
    font-size: 14px !important;
    padding: 1px 4px;
  }
  .cool {
    color: var(--cool);
  }
  .done {
    display: block;
    white-space: normal;
    line-height: 1.05;
  }
  .coast {
    color: var(--coast);
  }
  .band {
    color: var(--ink-2);
    font-size: 13px;
    margin-left: 2px;
    vertical-align: baseline;
  }
  .opens {
    cursor: help;
  }
  /* Two words beside a gear stand one above the other: side by side they leave the column. */
  .stacked {
    display: inline-flex;
    flex-direction: column;
    align-items: flex-start;
    vertical-align: middle;
    line-height: 1;
  }
  .stacked > * {
    font-size: 12px;
    margin: 0;
  }
  .moved {
    white-space: normal;
    display: block;
    font-size: 13px;
    line-height: 1.1;
    color: var(--ink);
    min-height: 14px;
  }
</style>
