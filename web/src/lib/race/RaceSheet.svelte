<script lang="ts">
  import type { Race } from '../api/client'
  import type { Weather } from '../conditions/weather.svelte'
  import { lapTime, plain } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import StudyHead from '../trade/StudyHead.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import RaceFigures from './RaceFigures.svelte'
  import RaceWeather from './RaceWeather.svelte'
  import StintRoll from './StintRoll.svelte'

  /** The race on one sheet: what it comes to, its stints to the measure of laps, its figures. */
  let {
    bench,
    view,
    studies,
    weather,
    race,
    width,
  }: {
    bench: Workbench
    view: View
    studies: Studies
    weather: Weather
    race: Race | null
    width: number
  } = $props()

  const id = $derived(bench.open?.id)
  const roll = $derived(width > 900 ? width - 326 : width)
  const clock = (seconds: number): string => {
    const minutes = Math.floor(seconds / 60)
    return minutes < 60
      ? `${minutes} min`
      : `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}`
  }
</script>

<StudyHead
  {studies}
  kind="race"
  again={() => void studies.race({})}
  said={race?.said}
  testid="race-said"
  files={[]}
>
  <span
    ><span class="place">{bench.open?.car.name}</span> on
    <span class="place">{bench.open?.circuit.name}</span></span
  >
  {#if id !== undefined}
    <span class="pl-4.5 gap-2 inline-flex print:hidden"
      >{#each ['md', 'csv', 'json'] as kind (kind)}
        <a class="link" href="/api/plans/{id}/race.{kind}?units={view.system}" download
          >{kind === 'md' ? 'Markdown' : kind.toUpperCase()}</a
        >
      {/each}<button class="link" onclick={() => print()}>Print</button></span
    >
  {/if}
</StudyHead>
{#if race}
  {#if race.trouble}<p role="alert" class="trouble text-[15px]">{race.trouble}</p>{/if}
  <div class="columns gap-6.5 flex narrow:flex-col">
    <div class="flex-1 min-w-0">
      {#if race.best}
        <StintRoll {race} units={view.units} width={Math.max(roll, 320)} />
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Stints along the race">
          <table class="ruled" data-testid="stints">
            <caption class="sr-only">Stints of the race</caption>
            <thead>
              <tr>
                <th scope="col">Laps</th>
                {#if race.best.drivers_said}<th scope="col">Driver</th>{/if}
                <th scope="col">Tyres</th><th scope="col">Fuel {view.units.unitOf('mass')}</th>
                <th scope="col">Stop before</th><th scope="col">First lap</th>
                <th scope="col">Quickest</th><th scope="col">Last lap</th>
                <th scope="col">Starts at</th>
              </tr>
            </thead>
            <tbody>
              {#each race.best.stints as stint (stint.from_lap)}
                <tr>
                  <th scope="row" class="figure">{stint.from_lap} to {stint.to_lap}</th>
                  {#if race.best.drivers_said}<td class="figure">{stint.driver}</td>{/if}
                  <td
                    ><span class="place">{stint.compound}</span>{#if !stint.new_tyres}<span
                        class="unit">, {stint.age} laps old</span
                      >{/if}</td
                  >
                  <td class="figure">{plain(view.units.show(stint.fuel_kg, 'mass'), 1)}</td>
                  <td
                    >{stint.from_lap > 1
                      ? `stationary ${plain(stint.standing_s, 0)} s${
                          stint.refuelled ? `, ${stint.refuelled} in` : ''
                        }`
                      : ''}</td
                  >
                  <td class="figure">{lapTime(stint.first_s)}</td>
                  <td class="figure">{lapTime(stint.quickest_s)}</td>
                  <td class="figure">{lapTime(stint.last_s)}</td>
                  <td class="figure">{clock(stint.clock_s)}</td>
                </tr>
              {/each}
            </tbody>
          </table>
        </div>
      {/if}
      {#if race.best?.drivers_said}<p class="pt-1.5 text-[15px]">{race.best.drivers_said}</p>{/if}
      {#if race.water}<p class="pt-1.5 text-[15px]">{race.water.said.join(' ')}</p>{/if}
      {#if race.rival}<p class="pt-1.5 text-[15px]">{race.rival.said}</p>{/if}
      {#if race.change}<p class="pt-1.5 text-[15px]">{race.change.said.join(' ')}</p>{/if}
      <details class="pt-2">
        <summary>Assumptions</summary>
        <ul data-testid="race-assumptions">
          {#each race.assumptions as one (one.label)}
            <li><b>{one.label}</b> {one.value}, <span class="unit">{one.source}</span></li>
          {/each}
          {#if race.total_band}<li>
              <b>Band</b> 80 % band of the race time {clock(race.total_band.low)} to {clock(
                race.total_band.high,
              )} (80 % band)
            </li>{/if}
        </ul>
      </details>
    </div>
    <aside class="flex-none w-75 narrow:w-full print:hidden" aria-label="The race’s figures">
      <h2 class="figure pt-1.5 text-[17px]">Weather</h2>
      <RaceWeather {bench} {weather} />
      <RaceFigures {bench} {view} groups={['Distance', 'Stops', 'Rules', 'Neutralisation']} />
    </aside>
  </div>
{:else}<p class="unit px-0 py-7.5">Calculating the race…</p>{/if}

<style>
  th,
  td {
    white-space: nowrap;
  }
</style>
