<script lang="ts">
  import { scaleLinear, type ScaleLinear } from 'd3-scale'
  import type { Session, SessionPoint } from '../api/client'
  import { lapTime, plain } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import {
    clock,
    hoursBetween,
    momentUnder,
    bandsOf,
    firstForecast,
    LEFT,
    placed,
    RIGHT,
    rowAt,
    seconds,
    spread,
    type Band,
  } from './roll'

  /**
   * The session as a roll: time runs to the right, one thin pen each for air, road and wind, rain
   * falling under them, the lap as the heavier line below; where a call flips, a mark with words.
   */
  let {
    session,
    view,
    width,
    height,
    at,
    choose,
  }: {
    session: Session
    view: View
    width: number
    height: number
    /** Index of the moment that is looked at. */
    at: number
    choose: (index: number) => void
  } = $props()

  const ROWS = 5
  const DASHES = ['7 4', '2 3', '11 3 2 3', '4 4']
  const units = $derived(view.units)
  const points = $derived(session.points)
  const wettest = $derived(
    Math.max(...points.map((point) => Math.max(point.beside_pct, point.rain_mm_h))),
  )
  const wetted = $derived(wettest >= 0.5)
  const bands = $derived(bandsOf(height, ROWS, wetted))
  const times = $derived(points.map((point) => seconds(point.at)))
  const px = $derived(
    scaleLinear(
      [times[0] ?? 0, Math.max(times.at(-1) ?? 1, (times[0] ?? 0) + 60)],
      [LEFT, width - RIGHT],
    ),
  )
  const temperature = (value: number): number => units.show(value, 'temperature')
  const wind = (value: number): number => units.show(value, 'wind')
  const heats = $derived(
    points.flatMap((point) => [temperature(point.air_temp_c), temperature(point.track_temp_c)]),
  )
  const heat = $derived(scaleOver(heats, bands.heat, 2))
  const blow = $derived(
    scaleLinear(
      [0, Math.max(...points.map((point) => wind(point.gust_ms)), wind(4))],
      [bands.wind.bottom, bands.wind.top],
    ),
  )
  const wet = $derived(scaleLinear([0, 100], [bands.water.bottom, bands.water.top]))
  const laps = $derived(
    points.flatMap((point) => (point.figures ? [point.figures.lap_time_s] : [])),
  )
  const others = $derived(
    (session.compounds ?? [])
      .map((name, number) => ({ name, number }))
      .filter(({ name }) => name !== session.own),
  )
  /** A tyre that is far off would flatten the curve that matters. */
  const near = $derived(Math.max(0.6, 0.5 * (Math.max(...laps) - Math.min(...laps))))
  const lap = $derived(
    scaleOver(
      [
        ...laps,
        ...others.flatMap(({ number }) =>
          points.flatMap((point) => {
            const time = point.compounds_s?.[number]
            return time !== null && time !== undefined && time < Math.max(...laps) + near
              ? [time]
              : []
          }),
        ),
      ],
      bands.lap,
      0.1,
    ),
  )
  const hours = $derived(hoursBetween(times[0] ?? 0, times.at(-1) ?? 0))
  const forecast = $derived(firstForecast(points))
  const words = $derived(placed(session.marks ?? [], px, width, ROWS))
  const cursor = $derived(points[at])

  function scaleOver(values: number[], band: Band, least: number): ScaleLinear<number, number> {
    const low = values.length > 0 ? Math.min(...values) : 0
    const high = values.length > 0 ? Math.max(...values) : 1
    const room = Math.max((high - low) * 0.06, least)
    return scaleLinear([low - room, high + room], [band.bottom, band.top])
  }
  function pen(of: (point: SessionPoint) => number | null): string {
    let down = false
    return points
      .map((point, index) => {
        const y = of(point)
        if (y === null) {
          down = false
          return ''
        }
        const step = `${down ? 'L' : 'M'}${px(times[index] ?? 0).toFixed(1)} ${y.toFixed(1)}`
        down = true
        return step
      })
      .join('')
  }
  const end = $derived(points.at(-1))
  const lapNames = $derived.by(() => {
    const all = others.flatMap(({ name, number }) => {
      const time = end?.compounds_s[number]
      return typeof time === 'number' ? [{ name, y: lap(time) }] : []
    })
    if (end?.figures) all.push({ name: session.own ?? 'the plan', y: lap(end.figures.lap_time_s) })
    const shown = all.filter(({ y }) => y > bands.lap.top - 2 && y < bands.lap.bottom + 2)
    return spread(shown, 13, bands.lap.bottom)
  })
  const arrows = $derived(
    points.filter((_, index) => index % Math.max(Math.round(points.length / 22), 1) === 0),
  )
</script>

{#snippet name(y: number, text: string)}
  <text x={width - RIGHT + 6} y={y + 4} class="pen-name">{text}</text>
{/snippet}
{#snippet tick(y: number, text: string)}
  <text x={LEFT - 6} y={y + 4} text-anchor="end" class="tick">{text}</text>
{/snippet}

<svg
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  role="img"
  aria-label="Weather and lap along the session"
  data-testid="session-roll"
  onpointermove={(event) => choose(momentUnder(event, width, times, px.invert))}
>
  {#if forecast < points.length}
    {@const from = px(times[forecast] ?? 0)}
    <rect
      x={from}
      y="0"
      width={width - RIGHT - from}
      height={bands.lap.bottom}
      fill="var(--wash)"
    />
    <text x={from + 5} y="13" class="tick">forecast</text>
    {#if forecast > 0}<text x={from - 5} y="13" text-anchor="end" class="tick">measured</text>{/if}
  {/if}
  {#each hours as hour (hour)}
    <path d="M{px(hour)} 0V{bands.lap.bottom}" stroke="var(--hair)" />
    <text x={px(hour)} y={bands.lap.bottom + 14} text-anchor="middle" class="tick"
      >{clock(hour)}</text
    >
  {/each}
  {#each [...new Set( [bands.heat.bottom, bands.wind.bottom, bands.water.bottom] )] as bottom (bottom)}
    <path d="M{LEFT} {bottom}H{width - RIGHT}" stroke="var(--rule)" />
  {/each}
  <path d="M{LEFT} {bands.lap.bottom}H{width - RIGHT}" stroke="var(--ink)" />

  {#each heat.ticks(3) as value (value)}{@render tick(heat(value), plain(value, 0))}{/each}
  <path d={pen((point) => heat(temperature(point.air_temp_c)))} class="pen" />
  <path
    d={pen((point) => heat(temperature(point.track_temp_c)))}
    class="pen"
    stroke-dasharray="7 3"
  />
  {#if end}
    {@render name(heat(temperature(end.air_temp_c)), `air ${units.temperatureUnit}`)}
    {@render name(heat(temperature(end.track_temp_c)), `road ${units.temperatureUnit}`)}
  {/if}

  {#each blow.ticks(2) as value (value)}{@render tick(blow(value), plain(value, 0))}{/each}
  <path d={pen((point) => blow(wind(point.gust_ms)))} class="pen faint" stroke-dasharray="1 3" />
  <path d={pen((point) => blow(wind(point.wind_speed_ms)))} class="pen" />
  {#each arrows as point (point.at)}
    <!-- The arrow flies with the wind: away from where it comes from, north up. -->
    <g
      transform="translate({px(seconds(point.at))} {bands.wind.bottom -
        7}) rotate({point.wind_from_deg + 180})"
    >
      <path d="M0 5V-5M-2.6 -1.6L0 -5L2.6 -1.6" class="arrow" />
    </g>
  {/each}
  {#if end}
    {@render name(blow(wind(end.wind_speed_ms)), `wind ${units.unitOf('wind')}`)}
    {#if Math.abs(blow(wind(end.gust_ms)) - blow(wind(end.wind_speed_ms))) > 12}
      {@render name(blow(wind(end.gust_ms)), 'gusts')}
    {/if}
  {/if}

  {#if wetted}
    {#each points as point (point.at)}
      {#if point.rain_mm_h > 0}
        {@const x = px(seconds(point.at))}
        <path
          d="M{x} {bands.water.top}l-3 {Math.min(4 + 3 * point.rain_mm_h, 26)}m6 {-Math.min(
            4 + 3 * point.rain_mm_h,
            26,
          )}l-3 {Math.min(4 + 3 * point.rain_mm_h, 26)}"
          class="rain"
        />
      {/if}
    {/each}
    {#each [0, 50, 100] as value (value)}{@render tick(wet(value), String(value))}{/each}
    <path d={pen((point) => wet(point.beside_pct))} class="pen faint" stroke-dasharray="5 3" />
    <path d={pen((point) => wet(point.line_pct))} class="pen" />
    {@render name(wet(Math.min(end?.line_pct ?? 0, 88)), 'line wet %')}
    {@render name(
      Math.min(wet(end?.beside_pct ?? 0), wet(Math.min(end?.line_pct ?? 0, 88)) - 13),
      'off line',
    )}
  {/if}
  {#each lap.ticks(4) as value (value)}{@render tick(
      lap(value),
      lapTime(value).slice(0, -2),
    )}{/each}
  {#each others as other, n (other.name)}
    <path
      d={pen((point) => {
        const time = point.compounds_s?.[other.number]
        if (time === null || time === undefined) return null
        const y = lap(time)
        return y < bands.lap.top - 2 || y > bands.lap.bottom + 2 ? null : y
      })}
      class="pen"
      stroke-dasharray={DASHES[n % DASHES.length]}
    />
  {/each}
  <path
    d={pen((point) => (point.figures ? lap(point.figures.lap_time_s) : null))}
    class="lap"
    data-testid="session-lap"
  />
  {#each lapNames as one (one.name)}{@render name(one.y, one.name)}{/each}

  {#each session.marks ?? [] as mark (`${mark.at}/${mark.corner}/${mark.what}`)}
    <path
      d="M{px(seconds(mark.at))} {bands.lap.bottom}v{mark.what === 'braking' ? -7 : -13}"
      class="mark"
      class:strong={mark.what !== 'braking'}
    />
  {/each}
  {#each words as mark (`${mark.x}/${mark.said}`)}
    <path
      d="M{mark.x} {bands.lap.bottom + 18}V{rowAt(bands.words, mark.row) - 3}"
      stroke="var(--rule)"
    />
    <text
      x={mark.x + (mark.ends ? -4 : 4)}
      y={rowAt(bands.words, mark.row)}
      text-anchor={mark.ends ? 'end' : 'start'}
      class="said">{mark.said}</text
    >
  {/each}
  {#if cursor}
    <path
      d="M{px(seconds(cursor.at))} 0V{bands.lap.bottom}"
      stroke="var(--cool)"
      stroke-width="1.4"
    />
    {#if cursor.figures}
      <circle
        cx={px(seconds(cursor.at))}
        cy={lap(cursor.figures.lap_time_s)}
        r="4"
        fill="var(--cool)"
      />
    {/if}
  {/if}
</svg>

<style>
  svg {
    display: block;
    touch-action: pan-y;
  }
  .tick {
    font-size: 11.5px;
    fill: var(--ink-2);
  }
  .pen {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.1;
  }
  .faint {
    stroke: var(--ink-2);
  }
  .pen-name {
    font-size: 12px;
    fill: var(--ink-2);
  }
  .lap {
    fill: none;
    stroke: var(--ink);
    stroke-width: 2.4;
  }
  .arrow,
  .rain {
    fill: none;
    stroke: var(--ink-2);
    stroke-width: 1.1;
  }
  .mark {
    stroke: var(--ember);
    stroke-width: 1.2;
  }
  .strong {
    stroke-width: 2.6;
  }
  .said {
    font-family: var(--figures);
    font-size: 12.5px;
    fill: var(--ink);
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 3px;
  }
</style>
