<script lang="ts">
  import type { Race } from '../api/client'
  import type { Weather } from '../conditions/weather.svelte'
  import { plain } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import StudyHead from '../trade/StudyHead.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import RaceFigures from './RaceFigures.svelte'
  import RaceWeather from './RaceWeather.svelte'
  import { raceClock } from './clock'
  import StintRoll from './StintRoll.svelte'
  import StintTable from './StintTable.svelte'

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
        <StintTable plan={race.best} units={view.units} label="Stints along the race" />
      {/if}
      {#if race.best?.drivers_said}<p class="pt-1.5 text-[15px]">{race.best.drivers_said}</p>{/if}
      {#if race.water}<p class="pt-1.5 text-[15px]">{race.water.said.join(' ')}</p>{/if}
      {#if race.rival}<p class="pt-1.5 text-[15px]">{race.rival.said}</p>{/if}
      {#if race.change}<p class="pt-1.5 text-[15px]">{race.change.said.join(' ')}</p>{/if}
      {#each race.scenarios ?? [] as scenario (scenario.name)}
        <section data-testid="scenario">
          <h2 class="figure pt-2 text-[17px]">
            {plain(scenario.chance_pct, 0)} %: <span class="place">{scenario.name}</span>
            {#if scenario.plan}<span class="unit">{scenario.plan.stops_and_tyres}</span>{/if}
          </h2>
          {#if scenario.plan}
            <StintTable plan={scenario.plan} units={view.units} label="Stints in {scenario.name}" />
          {:else}<p class="text-[15px]">No strategy reaches the finish in this forecast.</p>{/if}
        </section>
      {/each}
      <details class="pt-2">
        <summary>Assumptions</summary>
        <ul data-testid="race-assumptions">
          {#each race.assumptions as one (one.label)}
            <li><b>{one.label}</b> {one.value}, <span class="unit">{one.source}</span></li>
          {/each}
          {#if race.total_band}<li>
              <b>Band</b> 80 % band of the race time {raceClock(race.total_band.low)} to {raceClock(
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
