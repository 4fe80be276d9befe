<script lang="ts">
  import { untrack } from 'svelte'
  import { scaleLinear } from 'd3-scale'
  import { lapScale } from './lapScale'
  import { lapTime, plain, typedNumber } from '../parts/format'
  import LookAt from '../parts/LookAt.svelte'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import StudyHead from '../trade/StudyHead.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import { clock, hoursBetween, momentUnder, seconds, spread } from './roll'
  import type { Weather } from './weather.svelte'

  /** Several weathers that may come, side by side: what each asks, what they share, what decides. */
  let {
    bench,
    view,
    studies,
    weather,
  }: { bench: Workbench; view: View; studies: Studies; weather: Weather } = $props()

  const HEIGHT = 250
  const LEFT = 62
  const RIGHT = 110
  const DASHES = ['', '7 4', '2 3', '11 3 2 3', '4 4', '1 4']
  let width = $state(760)
  let looked = $state(-1)

  const job = $derived(studies.jobs.weathers)
  const found = $derived(job?.weathers ?? null)
  const moments = $derived(found?.moments ?? [])
  const count = $derived(found?.sides[0]?.points.length ?? 0)
  const at = $derived(looked < 0 ? Math.floor(count / 2) : Math.min(looked, count - 1))
  const moment = $derived(moments[at])
  const units = $derived(view.units)
  const enough = $derived((weather.record?.weathers ?? []).length > 1)
  const times = $derived((found?.sides[0]?.points ?? []).map((point) => seconds(point.at)))
  const sidesLaps = $derived(
    (found?.sides ?? []).map((side) =>
      side.points.flatMap((point) => (point.figures ? [point.figures.lap_time_s] : [])),
    ),
  )
  const px = $derived(
    scaleLinear(
      [times[0] ?? 0, Math.max(times.at(-1) ?? 1, (times[0] ?? 0) + 60)],
      [LEFT, width - RIGHT],
    ),
  )
  const py = $derived(lapScale(sidesLaps, 14, HEIGHT - 24))
  const hours = $derived(hoursBetween(times[0] ?? 0, times.at(-1) ?? 0))
  /** Names at the ends of the curves, pushed apart where they would touch. */
  const names = $derived.by(() => {
    const ends = (found?.sides ?? []).flatMap((side, number) => {
      const last = [...side.points].reverse().find((point) => point.figures)
      return last?.figures
        ? [{ number, name: side.name, y: py.of(last.figures.lap_time_s) + 4 }]
        : []
    })
    return spread(ends, 14, HEIGHT - 24)
  })

  $effect(() => {
    // What is said of the laps is said in the units of the page.
    const mark = `${studies.mark}|${weather.mark}|${view.system}`
    untrack(() => {
      if (!enough || studies.along.weathers === mark) return
      studies.along.weathers = mark
      void studies.weathers()
    })
  })

  function curve(side: number): string {
    let down = false
    return (found?.sides[side]?.points ?? [])
      .map((point, n) => {
        if (!point.figures) return ''
        const step = `${down ? 'L' : 'M'}${px(times[n] ?? 0).toFixed(1)} ${py.of(point.figures.lap_time_s).toFixed(1)}`
        down = true
        return step
      })
      .join('')
  }
  /** A weather of the record by its name: what is shown may be of the record before. */
  const named = (name: string) => weather.record?.weathers?.find((one) => one.name === name)
  async function chance(name: string, field: HTMLInputElement): Promise<void> {
    const record = weather.record
    const value = typedNumber(field.value)
    const before = named(name)
    if (!record || !before) return
    if (value === null || value < 0 || value > 100) {
      field.value = plain(before.chance_pct ?? 0, 0)
      return
    }
    const weathers = (record.weathers ?? []).map((one) =>
      one === before ? { ...one, chance_pct: value } : one,
    )
    const said = `Chance of ${before.name} ${plain(value, 0)} %`
    const refused = await weather.write({ ...record, weathers }, said)
    if (refused) bench.say(refused)
  }
  const place = (index: number) => found?.sides.map((side) => side.points[index])
</script>

{#if !enough}
  <p class="px-0 py-10 text-[15px]">
    This record has fewer than two forecasts.
    <button class="link" onclick={() => (view.conditionsTab = 'record')}
      >Add another to compare them</button
    >
  </p>
{:else}
  <StudyHead
    {studies}
    kind="weathers"
    again={() => void studies.weathers()}
    said={found?.said}
    testid="weathers-said"
  >
    <span>Set the chance of each forecast.</span>
  </StudyHead>
  {#if found}
    <div class="columns gap-6.5 flex">
      <div class="flex-1 min-w-0" bind:clientWidth={width}>
        <svg
          {width}
          height={HEIGHT}
          viewBox="0 0 {width} {HEIGHT}"
          role="img"
          aria-label="Lap time in each forecast"
          data-testid="weathers-plot"
          onpointermove={(event) => (looked = momentUnder(event, width, times, px.invert))}
        >
          {#each hours as hour (hour)}
            <path d="M{px(hour)} 6V{HEIGHT - 20}" stroke="var(--hair)" />
            <text x={px(hour)} y={HEIGHT - 6} text-anchor="middle" class="tick">{clock(hour)}</text>
          {/each}
          {#if py.breaksAt !== null}
            {@const y = py.of(py.breaksAt)}
            <path
              d="M{LEFT - 5} {y + 5}l10 -5M{LEFT - 5} {y}l10 -5"
              stroke="var(--ink)"
              data-testid="scale-break"
            />
            <text x={LEFT + 10} y={y - 3} class="tick">scale compressed above</text>
          {/if}
          {#each py.ticks as tick (tick)}
            <path d="M{LEFT} {py.of(tick)}H{width - RIGHT}" stroke="var(--hair)" />
            <text x={LEFT - 6} y={py.of(tick) + 4} text-anchor="end" class="tick"
              >{lapTime(tick).slice(0, -2)}</text
            >
          {/each}
          <path d="M{LEFT} {HEIGHT - 20}H{width - RIGHT}" stroke="var(--ink)" />
          {#each found.sides as side, n (side.name)}
            <path
              d={curve(n)}
              class="curve"
              stroke-dasharray={DASHES[n]}
              stroke-width={1 + 2.6 * side.share}
            />
          {/each}
          {#each names as one (one.number)}
            <text x={width - RIGHT + 6} y={one.y} class="name">{one.name}</text>
          {/each}
          {#if times[at] !== undefined}
            <path d="M{px(times[at])} 6V{HEIGHT - 20}" stroke="var(--cool)" stroke-width="1.4" />
          {/if}
        </svg>
        <div class="slider pl-0 pr-27.5 pt-0 pb-1.5">
          <LookAt
            label="Look at a moment"
            most={count - 1}
            {at}
            text={moment?.at.slice(11, 16) ?? ''}
            choose={(index) => (looked = index)}
          />
        </div>
        <div data-testid="weathers-pairs">
          {#each found.pairs as pair (`${pair.first}/${pair.second}`)}
            <p class="px-0 py-0.5 font-figures text-[15px] leading-[1.3] max-w-175">
              {(pair.said ?? []).join(' ')}
            </p>
          {/each}
        </div>
      </div>
      <div class="beside flex-none w-125 overflow-x-auto">
        {#if place(at)?.[0]}
          <table class="ruled" data-testid="weathers-beside">
            <caption class="text-left text-[14px]"
              >At <span class="figure text-[22px]">{place(at)?.[0]?.at.slice(11, 16)}</span
              ></caption
            >
            <thead>
              <tr>
                <td></td>
                {#each found.sides as side (side.name)}<th scope="col" class="place">{side.name}</th
                  >{/each}
              </tr>
            </thead>
            <tbody>
              <tr>
                <th scope="row">Chance, %</th>
                {#each found.sides as side (side.name)}
                  <td
                    ><input
                      class="dotted-below w-11 font-figures text-[16px] font-semibold bg-transparent"
                      inputmode="decimal"
                      aria-label="Chance of {side.name}, %"
                      value={plain(named(side.name)?.chance_pct ?? 0, 0)}
                      onchange={(event) => void chance(side.name, event.currentTarget)}
                    /></td
                  >
                {/each}
              </tr>
              <tr>
                <th scope="row">Lap</th>
                {#each place(at) as point, n (n)}
                  <td class="figure"
                    >{point?.figures
                      ? lapTime(point.figures.lap_time_s)
                      : (point?.trouble ?? '…')}</td
                  >
                {/each}
              </tr>
              {#if moment && (found.compounds ?? []).length > 0}
                <tr>
                  <th scope="row">Quickest tyre</th>
                  {#each moment.tyres as tyre, n (n)}
                    <td class:otherwise={tyre !== moment.tyres[0]}>{tyre ?? ''}</td>
                  {/each}
                </tr>
              {/if}
              <tr>
                <th scope="row">Wind</th>
                {#each place(at) as point, n (n)}
                  <td
                    >{plain(units.show(point?.wind_speed_ms ?? 0, 'wind'), 1)} from {plain(
                      point?.wind_from_deg ?? 0,
                      0,
                    )}°</td
                  >
                {/each}
              </tr>
              <tr>
                <th scope="row">Rain, line wet</th>
                {#each place(at) as point, n (n)}
                  <td>{plain(point?.rain_mm_h ?? 0, 1)} mm/h, {plain(point?.line_pct ?? 0, 0)} %</td
                  >
                {/each}
              </tr>
              {#each moment?.apart ?? [] as one (one.corner)}
                <tr class:now={view.corner === one.corner}>
                  <th scope="row"
                    ><button
                      class="cursor-pointer text-left"
                      onclick={() => bench.result && view.select(bench.result, one.corner)}
                      ><span class="figure">{one.corner + 1}</span>
                      <span class="place">{found.corners[one.corner]}</span></button
                    ></th
                  >
                  {#each one.calls as call, n (n)}
                    <td class:otherwise={call !== one.calls[0]}>{call ?? 'no lap'}</td>
                  {/each}
                </tr>
              {/each}
            </tbody>
          </table>
          {#if moment}
            <p class="unit pt-1">
              {moment.alike.length === 0
                ? 'No corner has the same call in every forecast.'
                : `Same call in every forecast: ${moment.alike.map((corner) => found.corners[corner]).join(', ')}.`}
              {#if (found.compounds ?? []).length > 0}
                Weighted by chance: {found.compounds
                  .map((name, n) => {
                    const time = moment.expected_s[n]
                    return `${name} ${time === null || time === undefined ? 'no lap' : lapTime(time)}`
                  })
                  .join(', ')}.
              {/if}
            </p>
          {/if}
        {/if}
      </div>
    </div>
  {/if}
{/if}

<style>
  .tick {
    font-size: 11.5px;
    fill: var(--ink-2);
  }
  .name {
    font-family: var(--figures);
    font-style: italic;
    font-size: 14px;
    fill: var(--ink);
  }
  .curve {
    fill: none;
    stroke: var(--ink);
  }
  .otherwise {
    font-weight: 700;
  }
  @media (max-width: 1000px) {
    .columns {
      flex-direction: column;
    }
    .beside {
      width: 100%;
    }
    .slider {
      padding-right: 0;
    }
  }
</style>
