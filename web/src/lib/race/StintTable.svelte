<script lang="ts">
  import type { RacePlan } from '../api/client'
  import { lapTime, plain } from '../parts/format'
  import type { Units } from '../parts/units'
  import { raceClock } from './clock'

  /** The stints of a strategy: laps, driver, tyres, fuel, the stop before, lap times, the clock. */
  let { plan, units, label }: { plan: RacePlan; units: Units; label: string } = $props()

  const first = $derived(plan.stints[0]?.from_lap ?? 1)
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div class="overflow-x-auto" role="region" tabindex="0" aria-label={label}>
  <table class="ruled" data-testid="stints">
    <caption class="sr-only">{label}</caption>
    <thead>
      <tr>
        <th scope="col">Laps</th>
        {#if plan.drivers_said}<th scope="col">Driver</th>{/if}
        <th scope="col">Tyres</th><th scope="col">Fuel {units.unitOf('mass')}</th>
        <th scope="col">Stop before</th><th scope="col">First lap</th>
        <th scope="col">Quickest</th><th scope="col">Last lap</th>
        <th scope="col">Starts at</th>
      </tr>
    </thead>
    <tbody>
      {#each plan.stints as stint (stint.from_lap)}
        <tr>
          <th scope="row" class="figure">{stint.from_lap} to {stint.to_lap}</th>
          {#if plan.drivers_said}<td class="figure">{stint.driver}</td>{/if}
          <td
            ><span class="place">{stint.compound}</span>{#if !stint.new_tyres}<span class="unit"
                >, {stint.age} laps old</span
              >{/if}</td
          >
          <td class="figure">{plain(units.show(stint.fuel_kg, 'mass'), 1)}</td>
          <td
            >{stint.from_lap > first
              ? `stationary ${plain(stint.standing_s, 0)} s${
                  stint.refuelled ? `, ${stint.refuelled} in` : ''
                }`
              : ''}</td
          >
          <td class="figure">{lapTime(stint.first_s)}</td>
          <td class="figure">{lapTime(stint.quickest_s)}</td>
          <td class="figure">{lapTime(stint.last_s)}</td>
          <td class="figure">{raceClock(stint.clock_s)}</td>
        </tr>
      {/each}
    </tbody>
  </table>
</div>

<style>
  th,
  td {
    white-space: nowrap;
  }
</style>
