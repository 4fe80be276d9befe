<script lang="ts">
  import type { Workbench } from '../state/workbench.svelte'
  import type { View } from '../state/view.svelte'
  import TrackMap from '../lap/TrackMap.svelte'
  import { lapTime, plain, timeDifference, whole } from '../parts/format'

  /** The corner table as one plain page for the wall; on the screen it is not shown. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  const units = $derived(view.units)
  const speed = (ms: number): string => whole(units.speed(ms))
  const length = (m: number | null): string => (m === null ? '' : whole(units.length(m)))
  const open = $derived(bench.open)
  const result = $derived(bench.result)
  const many = $derived((result?.corners.length ?? 0) > 16)
  const words = $derived(bench.words)
</script>

{#if open && result}
  <section class="print hidden" class:many aria-hidden="true">
    <header>
      <div>
        <h1 class="figure text-[21px] leading-[1.15]">{open.circuit.name}: {open.car.name}</h1>
        <p class="mt-1.25 leading-[1.3]">{open.name}</p>
        <p class="mt-1.25 leading-[1.3]">
          Car {open.car.name}, revision {open.car.revision}; circuit {open.circuit.name}, revision
          {open.circuit.revision}; conditions {open.conditions.name}, revision
          {open.conditions.revision}; plan revision {open.revisions.plan}.
        </p>
        <p class="mt-1.25 leading-[1.3]">
          Fuel {plain(units.show(bench.figure('fuel_kg') ?? 0, 'mass'), 1)}
          {units.unitOf('mass')}, air {plain(
            units.show(bench.figure('air_temp_c') ?? 0, 'temperature'),
            1,
          )}
          {units.temperatureUnit}, wind {plain(
            units.show(bench.figure('wind_speed_ms') ?? 0, 'wind'),
            1,
          )}
          {units.unitOf('wind')} from {whole(bench.figure('wind_from_deg') ?? 0)}°, wetness {plain(
            bench.figure('wetness_pct') ?? 0,
            0,
          )} %, grip {plain(bench.figure('grip') ?? 0, 3)}.
        </p>
        <p class="lap mt-1.25 gap-x-3 gap-y-0.5 leading-[1.3] flex flex-wrap items-baseline">
          <span class="figure text-[28px] w-full">{lapTime(result.lap_time_s)}</span>
          {#each result.sector_times_s as time, index (index)}
            <span>S{index + 1} {time.toFixed(3)}</span>
          {/each}
          <span>top {speed(result.top_speed_ms)} {units.speedUnit}</span>
          <span>full throttle {whole(result.full_throttle_pct)} %</span>
          {#if bench.comparison}
            <span
              >{timeDifference(bench.comparison.lap_s)} s against {open.baseline?.title ?? ''}</span
            >
          {/if}
        </p>
      </div>
      <TrackMap
        {result}
        {view}
        still
        closed={open.plan.circuit.closed}
        northDeg={open.plan.circuit.north_deg}
        windFromDeg={bench.figure('wind_from_deg') ?? 0}
        windMs={bench.figure('wind_speed_ms') ?? 0}
        width={290}
        height={200}
      />
    </header>
    <table class="mx-0 my-2 w-full border-collapse">
      <thead>
        <tr>
          <td></td><th>Corner</th><td></td><th>Braking point</th>
          <th>Distance, {units.lengthUnit}</th><th>Gear</th><th>Turn-in, {units.speedUnit}</th>
          <th>Minimum, {units.speedUnit}</th><th>Throttle, {units.lengthUnit} after</th>
          <th>Exit, {units.speedUnit}</th><th class="own">Driven</th>
        </tr>
      </thead>
      <tbody>
        {#each result.corners as corner, index (index)}
          <tr>
            <td class="figure">{index + 1}</td>
            <td class="place text-[14px]">{corner.name}</td>
            <td>{corner.direction}</td>
            <td class="font-semibold">
              {words?.corners[index]?.place || words?.corners[index]?.action}
            </td>
            <td class="number">{length(corner.braking_distance_m)}</td>
            <td class="number">
              {corner.gear === corner.gear_before
                ? corner.gear
                : `${corner.gear_before} to ${corner.gear}`}
            </td>
            <td class="number">{speed(corner.turn_in_speed_ms)}</td>
            <td class="number figure least text-[17px]">{speed(corner.min_speed_ms)}</td>
            <td class="number">
              {corner.throttle_at_m === null
                ? ''
                : length(
                    (corner.throttle_at_m - corner.min_speed_at_m + result.length_m) %
                      result.length_m,
                  )}
            </td>
            <td class="number">{speed(corner.exit_speed_ms)}</td>
            <td class="own"></td>
          </tr>
        {/each}
      </tbody>
    </table>
    {#each words?.notes ?? [] as warning (warning)}<p class="px-0 py-0.75">{warning}</p>{/each}
    <p class="care">
      These are calculated figures: the best a model can do, not a promise. Begin well before these
      braking points and add speed step by step. The circuit’s rules, its marshals and flags,
      scrutineers, licensed instructors and the maker’s limits come first. On public roads none of
      this applies.
    </p>
    <p class="px-0 py-0.75">
      Neapfrost {result.solver_version}, {new Date().toLocaleDateString(undefined, {
        dateStyle: 'long',
      })}
    </p>
  </section>
{/if}

<style>
  @media print {
    @page {
      size: A4 portrait;
      margin: 11mm 12mm;
    }
    .print {
      display: block;
      color: #000;
      font-size: 12px;
      --ink: #000;
      --ink-2: #333;
      --ember: #000;
      --rule: #999;
    }
  }
  header {
    display: flex;
    justify-content: space-between;
    gap: 12px;
    border-bottom: 2px solid #000;
    padding-bottom: 6px;
  }
  th {
    text-align: left;
    font-weight: 500;
    font-size: 11px;
    line-height: 1.15;
    vertical-align: bottom;
    padding: 0 4px 3px 0;
  }
  td {
    border-top: 1px solid #999;
    padding: 8px 4px 8px 0;
    white-space: nowrap;
  }
  .many td {
    padding: 1px 4px 1px 0;
    font-size: 11px;
  }
  .number {
    text-align: right;
    padding-right: 12px;
  }
  .many .least {
    font-size: 13px;
  }
  .many .place {
    font-size: 12px;
  }
  .own {
    width: 15%;
    border-left: 1px solid #999;
    padding-left: 6px;
  }
  .care {
    border-top: 2px solid #000;
    padding-top: 6px;
    line-height: 1.35;
  }
</style>
