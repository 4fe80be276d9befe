<script lang="ts">
  import type { CarReport } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { plain, whole } from '../parts/format'
  import Plot from './Plot.svelte'

  /** What the car does by itself: a column of figures, the gears, and every plot. */
  let { report, view, planId }: { report: CarReport; view: View; planId: number } = $props()

  const units = $derived(view.units)
  const figures = $derived(report.figures)
  const seconds = (value: number | null | undefined): string =>
    value === null || value === undefined ? 'never' : `${value.toFixed(2)} s`
  let width = $state(900)
  const plotWidth = $derived(width > 860 ? Math.floor((width - 26) / 2) : Math.max(width, 320))
  const speed = (ms: number): string => whole(units.speed(ms))
  const slow = $derived(`${speed(figures.slow_mark_ms)} ${units.speedUnit}`)
  const fast = $derived(`${speed(figures.fast_mark_ms)} ${units.speedUnit}`)
  const rows = $derived([
    {
      label:
        figures.top_speed_by === 'drag' ? 'Top speed (drag-limited)' : 'Top speed (rev-limited)',
      value: `${whole(units.speed(figures.top_speed_ms))} ${units.speedUnit}`,
    },
    { label: `0 to ${slow}`, value: seconds(figures.to_slow_s) },
    { label: `0 to ${fast}`, value: seconds(figures.to_fast_s) },
    {
      label: `${speed(figures.roll_from_ms)} to ${speed(figures.roll_to_ms)} ${units.speedUnit}`,
      value: seconds(figures.roll_s),
    },
    { label: 'Standing quarter mile', value: seconds(figures.quarter_mile_s) },
    { label: 'Standing kilometre', value: seconds(figures.kilometre_s) },
    {
      label: `${slow} to 0`,
      value: `${plain(units.length(figures.from_slow_m), 1)} ${units.lengthUnit}`,
    },
    {
      label: `${fast} to 0`,
      value: `${plain(units.length(figures.from_fast_m), 0)} ${units.lengthUnit}`,
    },
    { label: 'Lateral, slow', value: `${figures.lateral_slow_g.toFixed(2)} g` },
    { label: `Lateral at ${fast}`, value: `${figures.lateral_fast_g.toFixed(2)} g` },
    {
      label: `Downforce at ${fast}`,
      value: `${whole(units.show(figures.downforce_fast_kg, 'mass'))} ${units.unitOf('mass')}`,
    },
    {
      label: 'Power to mass',
      value:
        units.unitOf('mass') === 'kg'
          ? `${whole(figures.power_per_tonne_kw)} W/kg`
          : `${plain(units.show(figures.power_per_tonne_kw / 1000, 'power') / units.show(1, 'mass'), 3)} ${units.unitOf('power')}/${units.unitOf('mass')}`,
    },
    { label: 'Torque in this air', value: `${plain(100 * figures.torque_in_air, 1)} %` },
    { label: 'Cornering drag at 1 g', value: `${figures.cornering_drag_1g.toFixed(3)} g` },
  ])
</script>

<div class="pt-2 gap-6.5 flex narrow:flex-col">
  <div class="flex-none w-66 narrow:w-full">
    <table class="ruled" data-testid="car-figures">
      <tbody>
        {#each rows as row (row.label)}
          <tr>
            <th scope="row">{row.label}</th>
            <td class="figure">{row.value}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    <h2 class="figure px-0 pt-2.5 pb-0.5 text-[18px]">Shift points</h2>
    <table class="ruled" data-testid="gears">
      <thead>
        <tr>
          <th scope="col">Gear</th>
          <th scope="col" class="number">At rpm</th>
          <th scope="col" class="number">{units.speedUnit}</th>
          <th scope="col" class="number">Then</th>
          <th
            scope="col"
            class="number"
            title="Equivalent mass of wheels and engine, share of the vehicle’s mass">Rotating %</th
          >
        </tr>
      </thead>
      <tbody>
        {#each report.gears as gear (gear.gear)}
          <tr>
            <td class="figure">{gear.gear}</td>
            {#if gear.shift_rpm !== null && gear.shift_ms !== null}
              <td class="number figure"
                >{whole(gear.shift_rpm)}{#if gear.at_limiter}&nbsp;<span class="unit">limiter</span
                  >{/if}</td
              >
              <td class="number figure">{whole(units.speed(gear.shift_ms))}</td>
              <td class="number figure">{whole(gear.rpm_after ?? 0)}</td>
            {:else}
              <td class="number unit">to {whole(report.rev_limit_rpm)}</td>
              <td class="number figure">{whole(units.speed(gear.limiter_ms))}</td>
              <td></td>
            {/if}
            <td class="number figure">{plain(gear.turning_pct, 1)}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    <p class="unit">
      On the level, in still air at the plan’s temperature and pressure, with the plan’s setup.
    </p>
  </div>
  <div class="plots" bind:clientWidth={width}>
    {#each report.plots as data (data.plot)}
      <Plot
        {data}
        {view}
        width={plotWidth}
        height={data.plot === 'envelope' ? 330 : 250}
        files="/api/plans/{planId}/car/plots/{data.plot}"
      />
    {/each}
  </div>
</div>

<style>
  .plots {
    flex: 1;
    min-width: 0;
    display: flex;
    flex-wrap: wrap;
    gap: 12px 26px;
    max-height: calc(100vh - 214px);
    min-height: 300px;
    overflow-y: auto;
  }
  th,
  td {
    padding: 1px 6px 1px 0;
  }
  td.figure {
    font-size: 16px;
    text-align: right;
  }
  td.figure:first-child {
    text-align: left;
  }
  @media (max-width: 900px) {
    .plots {
      max-height: none;
    }
  }
</style>
