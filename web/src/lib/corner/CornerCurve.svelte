<script lang="ts">
  import type {
    Corner,
    CornerBand,
    CornerCalls,
    CornerMap,
    Result,
    CornerWords,
  } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { points, scales, speedAt, stretches, ticks, tickStep } from '../curve/geometry'
  import { SIZES, textWidth } from '../curve/faces.svelte'
  import CurveInk from '../lap/CurveInk.svelte'
  import { whole } from '../parts/format'
  import { beside, cornerWindow, cut, gearRuns, settled, type Note } from './window'

  /**
   * The speed through one corner, with what is done where: braking point, peak, turn-in, slowest
   * point, throttle and exit; under it the boards, the metres braked, the gears and the effort.
   */
  let {
    result,
    corner,
    words,
    calls,
    map,
    band,
    view,
    closed,
    width,
    height,
  }: {
    result: Result
    corner: Corner
    words: CornerWords | null
    calls: CornerCalls | null
    map: CornerMap | null
    band: CornerBand | null
    view: View
    closed: boolean
    width: number
    height: number
  } = $props()

  const clip = $props.id()
  const units = $derived(view.units)
  const STRIPS = 84
  const lap = $derived(result.length_m)
  const window = $derived(cornerWindow(corner, result))
  const trace = $derived(cut(result.trace, window, lap, closed))
  const base = $derived(height - STRIPS)
  const AXIS = 40
  const frame = $derived({ width: width - AXIS, top: 40, base, under: 40 })
  const scale = $derived.by(() => {
    const own = scales(trace.v_ms, lap, frame, units)
    const span = window.to - window.from
    return { ...own, x: (m: number) => AXIS + ((m - window.from) / span) * (width - AXIS) }
  })
  const xs = $derived(trace.s_m.map((at) => scale.x(at)))
  const line = $derived(points(xs, trace.v_ms, scale))
  const runs = $derived(stretches(trace))
  const step = $derived(tickStep(scale.low, scale.high))
  const at = (m: number): number => beside(m, window, lap)
  const gears = $derived(gearRuns(trace))
  const braking = $derived(
    corner.brake_start_at_m !== null && corner.braking_distance_m !== null
      ? {
          from: at(corner.brake_start_at_m),
          to: at(corner.brake_start_at_m) + corner.braking_distance_m,
        }
      : null,
  )

  const speed = (ms: number): string => whole(units.speed(ms))
  const FIGURE = 20
  const WORDS = 15
  const bandLine = $derived(
    band ? `${speed(band.min_speed_ms.low)} to ${speed(band.min_speed_ms.high)}` : '',
  )
  interface Said extends Note {
    text: string
    ink: string
    big: boolean
    x: number
    y: number
  }
  const said = $derived.by((): Said[] => {
    const found: Said[] = []
    const add = (
      id: string,
      m: number,
      text: string,
      ink: string,
      big: boolean,
      above: boolean,
    ) => {
      const where = at(m)
      const [x, y] = [scale.x(where), scale.y(speedAt(trace, where))]
      const wide = (big ? textWidth(text, 'figure', FIGURE) : textWidth(text, 'place', WORDS)) + 2
      const tall = big ? 20 : 17
      const up = [
        { left: x - wide / 2, top: y - tall - 8 },
        { left: x + 9, top: y - tall - 2 },
        { left: x - wide - 9, top: y - tall - 2 },
        { left: x + 9, top: y - tall - 20 },
        { left: x - wide / 2, top: y - tall - 26 },
      ]
      const down = [
        { left: x - wide / 2, top: y + 8 },
        { left: x + 9, top: y + 5 },
        { left: x - wide - 9, top: y + 5 },
        { left: x + 10, top: y + 22 },
        { left: x + 10, top: y - 8 },
      ]
      const places = above ? [...up, ...down] : [...down, ...up]
      found.push({ id, text, ink, big, x, y, width: wide, height: tall, places })
    }
    add('slowest', corner.min_speed_at_m, speed(corner.min_speed_ms), 'var(--ink)', true, false)
    const lowest = found[0]
    if (lowest && bandLine) lowest.width += textWidth(bandLine, 'words', SIZES.note) + 8
    const high = corner.lift_at_m ?? corner.brake_start_at_m
    if (high !== null) {
      add('high', high, speed(speedAt(trace, at(high))), 'var(--ink)', true, true)
      const figure = found[found.length - 1]
      if (figure)
        figure.places.unshift({
          left: figure.x - figure.width - 6,
          top: figure.y - figure.height - 6,
        })
    }
    if (high !== null)
      add(
        'brake',
        high,
        words?.place ? `${words.action} ${words.place}` : (words?.action ?? ''),
        corner.action === 'brake' ? 'var(--ember)' : 'var(--coast)',
        false,
        true,
      )
    if (corner.throttle_at_m !== null)
      add('power', corner.throttle_at_m, 'power', 'var(--cool)', false, false)
    add('exit', corner.ends_at_m, `exit ${speed(corner.exit_speed_ms)}`, 'var(--ink)', false, true)
    if (corner.action === 'brake')
      add(
        'turn-in',
        corner.turn_in_at_m,
        `turn in ${speed(corner.turn_in_speed_ms)}`,
        'var(--ink)',
        false,
        true,
      )
    return found
  })
  const placed = $derived(settled(said, { width, top: 0, bottom: base - 1 }, []))

  const effort = $derived(calls?.braking?.options[0]?.effort ?? [])
  const effortPath = $derived.by(() => {
    if (!braking || effort.length === 0) return ''
    const [top, foot] = [base + 62, base + 82]
    const up = effort.map(
      (point) =>
        `${scale.x(braking.from + point.at_m).toFixed(1)} ${(foot - (Math.min(point.effort_pct, 100) / 100) * (foot - top)).toFixed(1)}`,
    )
    return `M${scale.x(braking.from).toFixed(1)} ${foot}L${up.join('L')}L${scale.x(braking.to).toFixed(1)} ${foot}Z`
  })
  /** The shape of the pedal where there is little room for it. */
  const briefly = $derived.by(() => {
    const planned = calls?.braking?.options[0]
    return planned ? `${whole(planned.peak_effort_pct)} %` : ''
  })
  const boards = $derived(
    (map?.boards ?? [])
      .map((board) => ({ ...board, x: scale.x(at(board.at_m)) }))
      .filter((board) => board.x > AXIS && board.x < width - 10),
  )
  /** Boards that would lie over one another are left out, but never the one braked by. */
  const shownBoards = $derived.by(() => {
    const kept: { label: string; x: number; wide: number; chosen: boolean }[] = []
    for (const board of [...boards].sort((a, b) => Number(b.chosen) - Number(a.chosen))) {
      const wide = Math.max(textWidth(board.label, 'figure', 13) + 10, 26)
      const free = kept.every((one) => Math.abs(one.x - board.x) > (one.wide + wide) / 2 + 3)
      if (free) kept.push({ label: board.label, x: board.x, wide, chosen: board.chosen })
    }
    return kept
  })
  const description = $derived(
    `Speed through ${corner.name}: ${said.map((one) => one.text).join(', ')}; boards ${boards.map((one) => one.label).join(', ') || 'none'}`,
  )
</script>

<svg
  class="overflow-hidden block"
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  role="img"
  aria-label={description}
  data-testid="corner-curve"
  data-missing={said
    .filter((one) => !placed.has(one.id))
    .map((one) => one.id)
    .join(' ')}
>
  {#each ticks(scale.low, scale.high, step) as tick (tick)}
    {@const y = scale.y(units.read(tick, 'speed'))}
    {#if y < base - 4}
      <path d="M{AXIS} {y}H{width}" stroke="var(--hair)" />
      <text x={AXIS - 5} y={y + 4} text-anchor="end" class="small">{tick}</text>
    {/if}
  {/each}
  <clipPath id="{clip}-frame"><rect x={AXIS} y="0" width={width - AXIS} {height} /></clipPath>
  <g clip-path="url(#{clip}-frame)"><CurveInk {line} ghost={[]} {runs} {width} {base} /></g>
  <path d="M{AXIS} {base}H{width}" stroke="var(--ink)" stroke-width="1.4" />
  {#if braking && corner.braking_distance_m !== null}
    {@const [from, to] = [scale.x(braking.from), scale.x(braking.to)]}
    <rect
      x={from}
      y={base + 3}
      width={Math.max(to - from, 1)}
      height="7"
      fill="url(#hatch)"
      stroke="var(--ember)"
    />
    <text x={to + 6} y={base + 12} class="small ember"
      >{whole(units.length(corner.braking_distance_m))}
      {units.lengthUnit} braked, peak {corner.peak_decel_g?.toFixed(1)} g</text
    >
  {/if}
  {#each shownBoards as board (board.label + board.x)}
    <path
      d="M{board.x} {base}v18"
      stroke="var(--ink)"
      stroke-width={board.chosen ? 2 : 1}
      stroke-dasharray={board.chosen ? undefined : '2 2'}
    />
    <rect
      x={board.x - board.wide / 2}
      y={base + 18}
      width={board.wide}
      height="17"
      fill={board.chosen ? 'var(--ink)' : 'var(--leaf)'}
      stroke="var(--ink)"
    />
    <text
      x={board.x}
      y={base + 31}
      text-anchor="middle"
      class="figure"
      font-size="13"
      fill={board.chosen ? 'var(--paper)' : 'var(--ink)'}>{board.label}</text
    >
  {/each}
  <text x={AXIS - 5} y={base + 54} text-anchor="end" class="small">gear</text>
  {#each gears as run, index (index)}
    {@const [from, to] = [Math.max(scale.x(run.from), AXIS), Math.min(scale.x(run.to), width)]}
    {#if to - from > 1}
      <rect x={from} y={base + 40} width={to - from - 1} height="17" fill="var(--wash)" />
      {#if to - from > 10}
        <text x={(from + to) / 2} y={base + 53} text-anchor="middle" class="figure gear"
          >{run.gear}</text
        >
      {/if}
    {/if}
  {/each}
  {#if effortPath}
    <text x={AXIS - 5} y={base + 78} text-anchor="end" class="small">pedal</text>
    <path d={effortPath} fill="url(#hatch)" stroke="var(--ember)" stroke-width="1.2" />
    <path d="M{AXIS} {base + 82.5}H{width}" stroke="var(--hair)" />
    {#if braking && calls?.braking}
      {@const right = scale.x(braking.to) + 6}
      {@const fits = right + textWidth(calls.braking.shape, 'words', SIZES.note) < width}
      <text
        x={fits ? right : scale.x(braking.from) - 6}
        y={base + 79}
        text-anchor={fits ? undefined : 'end'}
        class="small">{fits ? calls.braking.shape : briefly}</text
      >
    {/if}
  {/if}
  {#each said as one (one.id)}
    {@const place = placed.get(one.id)}
    {#if one.id !== 'high'}
      {#if one.id === 'power'}
        <path d="M{one.x - 3} {one.y - 5.5}v11l9 -5.500z" fill="var(--cool)" />
      {:else}
        <circle
          cx={one.x}
          cy={one.y}
          r="4"
          fill="var(--leaf)"
          stroke={one.id === 'brake' ? one.ink : 'var(--ink)'}
          stroke-width="2"
        />
      {/if}
    {/if}
    {#if place}
      <text
        x={place.left}
        y={place.top + one.height - 4}
        class={one.big ? 'figure halo' : 'place halo'}
        font-size={one.big ? FIGURE : WORDS}
        fill={one.ink}>{one.text}</text
      >
      {#if one.id === 'slowest' && bandLine}
        <text
          x={place.left + textWidth(one.text, 'figure', FIGURE) + 6}
          y={place.top + one.height - 4}
          class="small halo">{bandLine}</text
        >
      {/if}
    {/if}
  {/each}
</svg>

<style>
  .small {
    font-size: 13px;
    fill: var(--ink-2);
  }
  .gear {
    font-size: 14px;
    fill: var(--ink);
  }
  .ember {
    fill: var(--ember);
  }
  .halo {
    paint-order: stroke;
    stroke: var(--leaf);
    stroke-width: 4px;
    stroke-linejoin: round;
  }
</style>
