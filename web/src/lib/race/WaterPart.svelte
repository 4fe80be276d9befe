<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Race, RaceRequest } from '../api/client'
  import type { Weather } from '../conditions/weather.svelte'
  import { lapTime, plain, typedNumber } from '../parts/format'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import RaceWeather from './RaceWeather.svelte'

  /** Which tyre for which water; and, with a record of the weather, when to change. */
  let {
    bench,
    studies,
    weather,
    race,
    width,
  }: {
    bench: Workbench
    studies: Studies
    weather: Weather
    race: Race | null
    width: number
  } = $props()

  const now = $derived(studies.now)
  const stand = (at: RaceRequest | null): void => studies.standAt(at)
  const HEIGHT = 260
  const LEFT = 74
  const water = $derived(race?.water ?? null)
  const change = $derived(race?.change ?? null)
  const plot = $derived(Math.max(Math.min(width * 0.55, 700), 320))
  const x = $derived(scaleLinear([0, 100], [LEFT, plot - 90]))
  const ends = $derived.by((): [number, number] => {
    const quickest = (water?.wetness_pct ?? []).map((_, n) =>
      Math.min(...(water?.times_s ?? []).map((row) => row[n] ?? Infinity)),
    )
    const low = Math.min(...quickest)
    const high = Math.max(...quickest)
    return [low - 0.04 * (high - low), high + 0.35 * (high - low)]
  })
  const y = $derived(scaleLinear(ends, [HEIGHT - 28, 16]))
  const inside = (row: number[]): string =>
    row
      .flatMap((time, at) =>
        time > ends[1]
          ? []
          : [`${x(water?.wetness_pct[at] ?? 0).toFixed(1)} ${y(time).toFixed(1)}`],
      )
      .join('L')
  /** Names of curves that leave the plot at the top stand under each other. */
  const leaves = (row: number[]): boolean => (row.at(-1) ?? 0) > ends[1]
  const crowded = (n: number): number =>
    (water?.times_s ?? [])
      .slice(0, n)
      .filter((row) => leaves(row) && leaves(water?.times_s[n] ?? [])).length
  const dashes = ['none', '8 4', '2 3', '9 3 2 3', '5 5', '1 3']
  const begins = $derived(bench.open?.plan.race?.starts_at ?? null)
  const lap = $derived(now?.lap ?? null)
  const names = $derived(race?.tyres.map((tyre) => tyre.name) ?? [])
  const best = $derived(
    Math.min(...(change?.stops ?? []).flatMap((one) => (one.mean_s === null ? [] : [one.mean_s]))),
  )
  function at(field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    if (value === null || value < 0 || value !== Math.round(value)) field.value = String(lap ?? 0)
    else stand({ ...now, lap: value })
  }
  function ageOf(field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    if (value === null || value < 0) field.value = String(now?.age ?? 0)
    else stand({ ...now, age: Math.round(value) })
  }
</script>

{#if water}
  <div class="columns gap-6.5 flex flex-wrap">
    <div>
      <p class="px-0 py-1 font-figures text-[17px]" data-testid="water-said">
        {water.said.join(' ')}
      </p>
      <svg
        class="max-w-full h-auto"
        width={plot}
        height={HEIGHT}
        viewBox="0 0 {plot} {HEIGHT}"
        role="img"
        aria-label="Lap time of each compound against water on the road"
        data-testid="water-plot"
      >
        {#each y.ticks(5) as tick (tick)}
          <path d="M{LEFT} {y(tick)}H{plot - 90}" stroke="var(--hair)" />
          <text x={LEFT - 6} y={y(tick) + 4} text-anchor="end" class="tick"
            >{lapTime(tick).slice(0, -2)}</text
          >
        {/each}
        {#each x.ticks(10) as tick (tick)}
          <text x={x(tick)} y={HEIGHT - 8} text-anchor="middle" class="tick"
            >{tick === 0 ? 'dry' : `${tick} %`}</text
          >
        {/each}
        {#each water.times_s as row, n (n)}
          {@const shown = row.filter((time) => time <= ends[1])}
          <path
            d="M{inside(row)}"
            fill="none"
            stroke="var(--ink)"
            stroke-width="2"
            stroke-dasharray={dashes[n]}
          />
          <text
            x={x(water.wetness_pct[shown.length - 1] ?? 0) + 6}
            y={y(shown.at(-1) ?? 0) + 4 + 16 * crowded(n)}
            class="place name">{water.compounds[n]}</text
          >
        {/each}
        {#each water.ranges.slice(1) as range (range.from_pct)}
          <path d="M{x(range.from_pct)} 16V{HEIGHT - 24}" stroke="var(--cool)" stroke-width="1.4" />
          <text x={x(range.from_pct) + 4} y="26" class="tick">{plain(range.from_pct, 0)} %</text>
        {/each}
      </svg>
      <p class="unit">
        Laps on warm new tyres with half the fuel, from each compound’s grip curve.
      </p>
    </div>
    <div class="flex-1 min-w-75 text-[14px]">
      <h2 class="figure pt-1.5 text-[17px]">Next stop</h2>
      <RaceWeather {bench} {weather} />
      {#if weather.record && begins !== null}
        <p>
          <label
            >Now after lap <input
              class="dotted-below w-11 font-figures text-[15px] font-semibold bg-transparent text-right"
              inputmode="numeric"
              value={lap ?? ''}
              onchange={(event) => at(event.currentTarget)}
            /></label
          >
          <label
            >on <select
              aria-label="Compound now"
              value={now?.compound ?? ''}
              onchange={(event) => stand({ ...now, compound: event.currentTarget.value || null })}
            >
              <option value="">as planned</option>
              {#each names as name (name)}<option value={name}>{name}</option>{/each}
            </select></label
          >
          {#if now?.compound}<label
              >, <input
                class="dotted-below w-11 font-figures text-[15px] font-semibold bg-transparent text-right"
                inputmode="numeric"
                aria-label="Laps on these tyres"
                value={now.age ?? 0}
                onchange={(event) => ageOf(event.currentTarget)}
              /> laps old</label
            >{/if}
          {#if lap !== null}<button class="link" onclick={() => stand(null)}
              >Reset to the start</button
            >{/if}
        </p>
        {#if change}
          <div
            class="px-0 py-1 font-figures text-[16px]"
            data-testid="change-said"
            aria-live="polite"
          >
            {#each change.said as sentence, n (n)}<p>{sentence}</p>{/each}
          </div>
          <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
          <div
            class="overflow-auto max-h-82.5"
            role="region"
            tabindex="0"
            aria-label="Tyres by wetness"
          >
            <table class="ruled" data-testid="change-table">
              <thead
                ><tr
                  ><th scope="col">Stop after lap</th><th
                    scope="col"
                    class="number text-right whitespace-nowrap">Costs on average s</th
                  >{#each change.weathers as name, n (name)}<th
                      scope="col"
                      class="number text-right whitespace-nowrap"
                      >{name}, {plain(change.chances_pct[n] ?? 0, 0)} %</th
                    >{/each}</tr
                ></thead
              >
              <tbody>
                {#each change.stops as one (one.lap)}
                  {#if one.mean_s !== null && one.mean_s - best < 60}
                    <tr class:now={one.mean_s === best}
                      ><th scope="row" class="figure">{one.lap}</th><td
                        class="figure number text-right whitespace-nowrap"
                        >{plain(one.mean_s - best, 1)}</td
                      >{#each one.times_s as time, n (n)}{@const own = Math.min(
                          ...change.stops.flatMap((other) => {
                            const there = other.times_s[n]
                            return there === null || there === undefined ? [] : [there]
                          }),
                        )}<td class="number text-right whitespace-nowrap"
                          >{time === null ? '–' : plain(time - own, 1)}</td
                        >{/each}</tr
                    >
                  {/if}
                {/each}
              </tbody>
            </table>
          </div>
        {:else if lap === null}<p class="unit">
            Enter the current lap to compare every lap for the next stop in every forecast.
          </p>{/if}
      {/if}
    </div>
  </div>
{:else if race}<p class="px-0 py-6 text-[15px]">
    This car has only one compound. Add another under Car, Setups, with its grip in the wet.
  </p>
{:else if studies.jobs.race?.state === 'running'}<p class="unit px-0 py-6 text-[15px]">
    Calculating the race…
  </p>{/if}

<style>
  .name {
    font-size: 15px;
    fill: var(--ink);
  }
</style>
