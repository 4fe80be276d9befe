<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Race } from '../api/client'
  import { plain, timeDifference } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import NeutralisedNow from './NeutralisedNow.svelte'
  import PitLoss from './PitLoss.svelte'
  import RaceFigures from './RaceFigures.svelte'
  import StrategyGaps from './StrategyGaps.svelte'

  /** The stops opened: other plans, a stop earlier or later, a neutralisation, a rival, what it hangs on. */
  let {
    bench,
    view,
    studies,
    race,
    width,
  }: { bench: Workbench; view: View; studies: Studies; race: Race | null; width: number } = $props()

  const HEIGHT = 150
  const LEFT = 52
  const plot = $derived(width > 900 ? Math.min(width - 330, 860) : width)
  const slow = $derived((race?.slow ?? []).filter((one) => one.gain_s !== null))
  const x = $derived(scaleLinear([0, race?.laps ?? 1], [LEFT, plot - 12]))
  const reach = $derived(Math.max(1, ...slow.map((one) => Math.abs(one.gain_s ?? 0))))
  const y = $derived(scaleLinear([-reach, reach], [HEIGHT - 26, 16]))
  const shifts = $derived([...new Set((race?.moved ?? []).map((one) => one.laps))])
  const cost = (stop: number, laps: number): number | null | undefined =>
    race?.moved.find((one) => one.stop === stop && one.laps === laps)?.cost_s
</script>

{#if race?.best}
  {@const best = race.best}
  <div class="columns gap-6.5 flex narrow:flex-col">
    <div class="flex-1 min-w-0">
      <h2 class="figure">Other strategies</h2>
      <StrategyGaps {race} width={Math.max(plot, 320)} />
      <table class="ruled" data-testid="other-plans">
        <thead><tr><th scope="col">Plan</th><th scope="col" class="number">Behind s</th></tr></thead
        >
        <tbody>
          <tr class="now"
            ><th scope="row">{best.stops_and_tyres}</th><td class="figure number">best</td></tr
          >
          {#each race.others as other, n (n)}
            <tr
              ><th scope="row"><span class="figure">{n + 1}</span> {other.stops_and_tyres}</th><td
                class="figure number">{timeDifference(other.behind_s, 1)}</td
              ></tr
            >
          {/each}
        </tbody>
      </table>
      {#if best.stops.length > 0}
        <h2 class="figure">Pit window: cost of stopping earlier or later</h2>
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Other strategies">
          <table class="ruled" data-testid="moved-stops">
            <thead
              ><tr
                ><th scope="col">Stop</th>{#each shifts as laps (laps)}<th
                    scope="col"
                    class="number">{laps > 0 ? `${laps} later` : `${-laps} earlier`}</th
                  >{/each}</tr
              ></thead
            >
            <tbody>
              {#each best.stops as lap, stop (lap)}
                <tr
                  ><th scope="row">after lap {lap}</th>{#each shifts as laps (laps)}{@const one =
                      cost(stop, laps)}<td class="figure number"
                      >{one === null || one === undefined ? '–' : timeDifference(one, 2)}</td
                    >{/each}</tr
                >
              {/each}
            </tbody>
          </table>
        </div>
      {/if}
      <h2 class="figure">What would change the strategy</h2>
      <table class="ruled" data-testid="sensitivities">
        <tbody>
          {#each race.sensitivities as one (one.label)}
            <tr
              ><th scope="row">{one.label}</th><td class="figure number"
                >{timeDifference(one.change_s, 1)} s</td
              ><td
                >{one.same
                  ? 'same strategy'
                  : one.stops.length === 0
                    ? `no stop: ${one.compounds.join(', ')}`
                    : `stops after ${one.stops.join(', ')}: ${one.compounds.join(', ')}`}</td
              ></tr
            >
          {/each}
        </tbody>
      </table>
      {#if slow.length > 0}
        <h2 class="figure">Safety car or full-course yellow, by starting lap</h2>
        <svg
          width={plot}
          height={HEIGHT}
          role="img"
          aria-label="Gain of stopping under a safety car or full-course yellow, by starting lap"
          data-testid="slow-plot"
        >
          {#each y.ticks(4) as tick (tick)}
            <path d="M{LEFT} {y(tick)}H{plot - 12}" stroke="var(--hair)" />
            <text x={LEFT - 6} y={y(tick) + 4} text-anchor="end" class="tick">{plain(tick, 1)}</text
            >
          {/each}
          <path d="M{LEFT} {y(0)}H{plot - 12}" stroke="var(--ink)" />
          <text x={LEFT + 4} y="12" class="tick"
            >gain of a stop at once, s; below zero: stay out</text
          >
          {#each slow as one (one.lap)}
            {@const gain = one.gain_s ?? 0}
            <path
              d="M{x(one.lap)} {y(0)}V{y(gain)}"
              stroke={gain > 0 ? 'var(--ink)' : 'var(--coast)'}
              stroke-width="3"
              stroke-dasharray={gain > 0 ? 'none' : '3 2'}
            />
          {/each}
          {#each x.ticks(8) as tick (tick)}
            <text x={x(tick)} y={HEIGHT - 6} text-anchor="middle" class="tick"
              >{tick === 0 ? 'lap' : tick}</text
            >
          {/each}
        </svg>
      {/if}
      <h2 class="figure">Safety car or full-course yellow now</h2>
      <NeutralisedNow {view} {studies} {race} />
      {#if race.rival}
        <h2 class="figure">
          Undercut and overcut against a rival who stops on lap {race.rival.rival_lap}
        </h2>
        <p class="text-[15px]" data-testid="rival-said">
          {race.rival.said}
          <span class="unit">Gap after lap {race.rival.from_lap}.</span>
        </p>
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Stops moved">
          <table class="ruled">
            <tbody>
              <tr
                ><th scope="row">Our stop after lap</th>{#each race.rival.rows as row (row.lap)}<td
                    class="number">{row.lap}</td
                  >{/each}</tr
              >
              <tr
                ><th scope="row">Ahead, s</th>{#each race.rival.rows as row (row.lap)}<td
                    class="figure number">{timeDifference(row.gap_s, 1)}</td
                  >{/each}</tr
              >
            </tbody>
          </table>
        </div>
      {/if}
    </div>
    <aside class="flex-none w-75 narrow:w-full" aria-label="Rules and a rival">
      <PitLoss {bench} {view} {race} />
      <RaceFigures {bench} {view} groups={['Stops', 'Rules', 'Neutralisation', 'Rival']} />
    </aside>
  </div>
{:else if race?.trouble}
  <p role="alert" class="trouble">{race.trouble}</p>
  <RaceFigures {bench} {view} groups={['Distance', 'Stops', 'Rules']} />
{:else if studies.jobs.race?.state === 'running'}<p class="unit px-0 py-7.5">
    Calculating the race…
  </p>{/if}

<style>
  h2 {
    font-size: 17px;
    padding-top: 8px;
  }
  .number {
    text-align: right;
    white-space: nowrap;
  }
</style>
