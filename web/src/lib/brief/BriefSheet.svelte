<script lang="ts">
  import type { Brief, Result } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import TrackMap from '../lap/TrackMap.svelte'
  import Disc from '../parts/Disc.svelte'
  import { lapTime, whole } from '../parts/format'

  /** The brief itself: heading, map, a line for each corner, cautions. Rows turn to blocks on a phone. */
  let {
    brief,
    bench,
    view,
    result,
    small,
  }: {
    brief: Brief
    bench: Workbench
    view: View
    result: Result
    small: boolean
  } = $props()

  type Line = Brief['corners'][number]
  const units = $derived(view.units)
  const speed = (ms: number): string => whole(units.speed(ms))
  const length = (m: number | null | undefined): string =>
    m === null || m === undefined ? '' : whole(units.length(m))
  const half = (band: { low: number; high: number } | null | undefined): number =>
    band ? units.length(band.high - band.low) / 2 : 0
  const many = $derived(brief.corners.length > 16)
  const laps = $derived(brief.corners[0]?.first_laps.length ?? 0)
  const at = $derived(brief.revisions)
  const words = (corner: Line): { label: string; text: string; place: boolean }[] =>
    [
      { label: '', text: corner.action === 'flat' ? '' : corner.approach, place: false },
      { label: 'shifts', text: corner.downshifts.join(', '), place: false },
      { label: 'look at', text: corner.look_at, place: true },
      { label: 'kerb', text: corner.kerb, place: true },
      { label: 'limit', text: corner.limit, place: true },
      { label: 'caution:', text: corner.hazards.join(', '), place: false },
      { label: 'set:', text: corner.asked.join(', '), place: false },
    ].filter((one) => one.text !== '')
  const angleOf = (corner: Line): number => result.corners[corner.number - 1]?.angle_deg ?? 90
  const earlier = (corner: Line): string =>
    corner.first_laps
      .map((step) =>
        step.earlier_m === null ? '–' : whole(Math.max(units.length(step.earlier_m), 0)),
      )
      .join('  ')
  const slower = (corner: Line): string =>
    corner.first_laps.map((step) => speed(step.min_speed_ms)).join('  ')
</script>

<article
  class="brief px-5.5 py-4.5 mx-auto my-3 border border-rule bg-leaf max-w-225"
  class:small
  class:many
  data-testid="brief"
>
  <header class="pb-1.5 gap-3.5 double-below flex justify-between">
    <div>
      <h2 class="figure text-[23px] leading-[1.1]">{brief.circuit}: {brief.car}</h2>
      <p class="pt-0.75 leading-[1.3]">{brief.plan}{brief.setup ? `, setup ${brief.setup}` : ''}</p>
      <p class="unit pt-0.75 leading-[1.3]">
        Car revision {at.car}, circuit {at.circuit}, conditions {at.conditions} ({brief.conditions}),
        plan {at.plan}.
        {brief.said_conditions}.
      </p>
      <p class="lap pt-0.75 gap-x-2 gap-y-px leading-[1.3] flex flex-wrap items-baseline">
        <span class="figure time">{lapTime(brief.lap_time_s)}</span>
        {#if brief.lap_band}
          <span class="figure">{lapTime(brief.lap_band.low)}</span>
          <span class="unit">to</span>
          <span class="figure">{lapTime(brief.lap_band.high)}</span>
        {/if}
        <span class="basis-full">
          {#each brief.sector_times_s as time, index (index)}
            <span class="unit">S{index + 1}</span>
            <span class="figure mr-2.5">{time.toFixed(3)}</span>
          {/each}
        </span>
      </p>
    </div>
    <div class="flex-none">
      <TrackMap
        {result}
        {view}
        still
        closed={bench.open?.plan.circuit.closed ?? true}
        northDeg={bench.open?.plan.circuit.north_deg ?? 0}
        windFromDeg={bench.figure('wind_from_deg') ?? 0}
        windMs={bench.figure('wind_speed_ms') ?? 0}
        width={small ? 190 : 260}
        height={small ? 130 : 170}
      />
    </div>
  </header>
  <table class="mx-0 mt-1 mb-1.5 w-full border-spacing-0">
    <thead>
      <tr>
        <th colspan="2">Corner</th>
        <th>Braking point</th>
        <th class="number">Distance, {units.lengthUnit}</th>
        <th>Gear</th>
        <th class="number">Minimum, {units.speedUnit}</th>
        <th class="number">Throttle, {units.lengthUnit} after</th>
        <th class="number">Exit, {units.speedUnit}</th>
        {#if laps > 0}<th>First laps:<br />{units.lengthUnit} earlier; min.</th>{/if}
      </tr>
    </thead>
    <tbody>
      {#each brief.corners as corner (corner.number)}
        <tr class="first">
          <td class="which"
            ><Disc
              direction={corner.direction === 'left' ? 'left' : 'right'}
              angleDeg={angleOf(corner)}
              size={small ? 14 : 18}
            />
            <span class="figure">{corner.number}</span></td
          >
          <th scope="row" class="place">{corner.name}</th>
          <td class="brake" class:calm={corner.action !== 'brake'} data-label="Brake"
            >{corner.braking}{#if half(corner.brake_band_m) >= 0.5}<span class="unit"
                >&nbsp;±{whole(half(corner.brake_band_m))}</span
              >{/if}</td
          >
          <td class="number" data-label="Distance"
            >{length(corner.braking_distance_m)}<span class="phone">
              {units.lengthUnit}</span
            >{#if corner.peak_decel_g !== null}<span class="unit"
                >&nbsp;{corner.peak_decel_g.toFixed(1)} g</span
              >{/if}</td
          >
          <td class="figure gear" data-label="Gear"
            >{corner.gears}{#if corner.gear_in_doubt}<span class="unit ml-1.25 inline-block"
                >or {corner.gear_in_doubt}</span
              >{/if}</td
          >
          <td class="number" data-label="Minimum"
            ><span class="figure least text-[20px]">{speed(corner.min_speed_ms)}</span
            >{#if corner.min_speed_band}<span class="unit"
                >&nbsp;{speed(corner.min_speed_band.low)}–{speed(corner.min_speed_band.high)}</span
              >{/if}</td
          >
          <td class="number" data-label="Throttle">{length(corner.throttle_after_m)}</td>
          <td class="number" data-label="Exit">{speed(corner.exit_speed_ms)}</td>
          {#if laps > 0}
            <td class="buildup figure" data-label="First laps, earlier by">{earlier(corner)}</td>
          {/if}
        </tr>
        <tr class="second">
          <td></td>
          <td colspan="7">
            {#each words(corner) as one (one.label + one.text)}
              <span class="mr-2.5"
                ><span class="unit">{one.label}</span>
                <span class:place={one.place}>{one.text}</span></span
              >
            {/each}
          </td>
          {#if laps > 0}<td class="buildup" data-label="Minimum">{slower(corner)}</td>{/if}
        </tr>
      {/each}
    </tbody>
  </table>
  {#if brief.band}<p class="unit">Bands: {brief.band}.</p>{/if}
  {#each brief.warnings as warning (warning)}<p class="note">{warning}</p>{/each}
  {#each brief.cautions as caution (caution)}<p class="care">{caution}</p>{/each}
  <p class="unit">Neapfrost {brief.solver_version}</p>
</article>

<style>
  .brief.small {
    max-width: 660px;
    font-size: 12px;
  }
  header > :first-child {
    min-width: 0;
    overflow-wrap: anywhere;
  }
  .lap .figure {
    font-size: 17px;
  }
  .lap .time {
    font-size: 36px;
    line-height: 1;
    margin-right: 6px;
  }
  .small .lap .time {
    font-size: 27px;
  }
  th,
  td {
    text-align: left;
    font-weight: 500;
    padding: 2px 8px 0 0;
    vertical-align: baseline;
    font-size: 14px;
    line-height: 1.2;
  }
  thead th {
    color: var(--ink-2);
    font-size: 13px;
    vertical-align: bottom;
    border-bottom: 1px solid var(--ink);
  }
  .first > * {
    border-top: 1px solid var(--rule);
    white-space: nowrap;
  }
  .first > .brake,
  .first > .gear {
    white-space: normal;
  }
  tbody tr:first-child > * {
    border-top: 0;
  }
  .second td {
    padding: 0 0 2px;
    font-size: 13px;
  }
  .which {
    white-space: nowrap;
  }
  .which .figure {
    font-size: 16px;
  }
  th.place {
    font-size: 17px;
  }
  .number {
    text-align: right;
    padding-right: 12px;
  }
  .brake {
    color: var(--ember);
    font-weight: 600;
    font-size: 15px;
  }
  .brake.calm {
    color: var(--coast);
  }
  .buildup {
    white-space: pre !important;
    padding-right: 0;
  }
  .which :global(svg) {
    display: inline-block;
    vertical-align: -3px;
  }
  .care,
  .note {
    border-top: 1px solid var(--rule);
    padding: 3px 0;
    line-height: 1.3;
    font-size: 13px;
  }
  .phone {
    display: none;
  }
  .small th,
  .small td {
    font-size: 11.5px;
    padding-right: 5px;
  }
  .small .least {
    font-size: 15px;
  }
  .small th.place {
    font-size: 13px;
  }
  .many .second {
    display: none;
  }
  .many th,
  .many td {
    font-size: 12px;
    line-height: 1.1;
    padding-top: 0;
  }
  .many .least {
    font-size: 15px;
  }
  @media screen and (max-width: 760px) {
    .brief {
      padding: 10px 12px;
      margin: 6px 0;
      font-size: 14px;
    }
    header {
      flex-direction: column;
    }
    table,
    tbody {
      display: block;
    }
    thead {
      display: none;
    }
    .first,
    .many .first {
      display: flex;
      flex-wrap: wrap;
      gap: 0 16px;
      align-items: baseline;
      border-top: 2px solid var(--ink);
      padding-top: 4px;
    }
    .first > *,
    .small .first > *,
    .many .first > * {
      border-top: 0;
      text-align: left;
      padding: 1px 0;
      font-size: 16px;
    }
    .first > th.place {
      font-size: 21px;
      margin-left: -8px;
    }
    .first > .brake {
      flex-basis: 100%;
      font-size: 20px;
      white-space: normal;
    }
    .first > td[data-label]:not(.brake)::before {
      content: attr(data-label);
      display: block;
      font-size: 13px;
      color: var(--ink-2);
      font-family: var(--labels);
      font-weight: 400;
    }
    .first > td[data-label='Minimum'] {
      order: 1;
    }
    .first > td[data-label='Gear'] {
      order: 2;
    }
    .first > td[data-label='Distance'] {
      order: 3;
    }
    .first > td[data-label='Throttle'],
    .first > td[data-label='Exit'] {
      order: 4;
    }
    .first > .buildup {
      order: 5;
    }
    .second > .buildup::before {
      content: 'first laps, minimum ';
      color: var(--ink-2);
    }
    .phone {
      display: inline;
    }
    .second,
    .many .second {
      display: block;
    }
    .second td {
      display: inline;
      font-size: 14px;
    }
  }
  @page brief-a4 {
    size: A4 portrait;
    margin: 10mm 11mm;
  }
  @page brief-a5 {
    size: A5 portrait;
    margin: 6mm 7mm;
  }
  @media print {
    .brief.small {
      page: brief-a5;
    }
    .brief {
      page: brief-a4;
      border: 0;
      margin: 0;
      padding: 0;
      max-width: none;
      background: #fff;
      color: #000;
      --ink: #000;
      --ink-2: #333;
      --ember: #000;
      --coast: #333;
      --rule: #999;
      --hair: #ccc;
    }
    .brief:not(.small):not(.many) .first > * {
      padding-top: 5px;
      padding-right: 6px;
      font-size: 12.5px;
    }
    .brief:not(.small):not(.many) .first .brake {
      font-size: 13px;
    }
    .brief:not(.small):not(.many) .first .unit {
      font-size: 11px;
    }
    .brief:not(.small):not(.many) .first .least {
      font-size: 17px;
    }
    .brief:not(.small):not(.many) .first > th.place {
      font-size: 15px;
    }
    .brief:not(.small):not(.many) .second td {
      padding-bottom: 4px;
      font-size: 12px;
    }
    .small .which .figure {
      font-size: 11px;
    }
    .small th,
    .small td {
      font-size: 9px;
      padding-right: 3px;
    }
    .small .second td {
      font-size: 8.5px;
    }
    .small .least {
      font-size: 12px;
    }
    .small th.place {
      font-size: 10.5px;
    }
    .small header p,
    .small .care,
    .small .note,
    .small p {
      font-size: 9px;
    }
    .small h2 {
      font-size: 16px;
    }
  }
</style>
