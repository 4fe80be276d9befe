<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import { plain, timeDifference } from '../parts/format'
  import type { View } from '../state/view.svelte'

  interface Laps {
    at_m: number[]
    driven_ms: number[]
    predicted_ms: number[]
    loss_s: number[]
  }

  /**
   * The driven lap, dashed, on the predicted one; under it what every corner lost and the time
   * lost so far, slower upwards.
   */
  let {
    lap,
    corners,
    length,
    view,
    width,
    still = false,
  }: {
    lap: Laps
    corners: { number: number; at_m: number; lost_s: number | null }[]
    length: number
    view: View
    width: number
    /** No cursor and no choice, for paper. */
    still?: boolean
  } = $props()

  const HEIGHT = 268
  const CURVE = 160
  const LOSS = { top: CURVE + 40, base: HEIGHT - 12 }
  const LEFT = 44
  const RIGHT = 12
  /** Less than this is no loss worth a figure in the picture [s]. */
  const LEAST_S = 0.02
  const FIGURE_PX = 36
  const units = $derived(view.units)
  const px = $derived(scaleLinear([0, length], [LEFT, width - RIGHT]))
  const fastest = $derived(Math.max(...lap.driven_ms, ...lap.predicted_ms))
  const py = $derived(scaleLinear([0, units.speed(fastest) * 1.06], [CURVE, 16]))
  const most = $derived(Math.max(0.05, ...lap.loss_s))
  const least = $derived(Math.min(0, ...lap.loss_s))
  const loss = $derived(scaleLinear([least, most], [LOSS.base, LOSS.top]))
  /** Losses of the corners, the largest first where two would lie on each other. */
  const losses = $derived.by(() => {
    const placed: { x: number; text: string }[] = []
    const largest = corners
      .filter((one) => Math.abs(one.lost_s ?? 0) >= LEAST_S)
      .sort((a, b) => Math.abs(b.lost_s ?? 0) - Math.abs(a.lost_s ?? 0))
    for (const one of largest) {
      const x = px(one.at_m)
      if (placed.every((other) => Math.abs(other.x - x) >= FIGURE_PX))
        placed.push({ x, text: timeDifference(one.lost_s ?? 0, 2) })
    }
    return placed
  })
  const line = (values: number[], y: (value: number) => number): string =>
    values
      .map(
        (value, n) =>
          `${n === 0 ? 'M' : 'L'}${px(lap.at_m[n] ?? 0).toFixed(1)} ${y(value).toFixed(1)}`,
      )
      .join('')
  const at = $derived.by(() => {
    const cursor = view.cursorM
    if (still || cursor === null) return null
    let best = 0
    lap.at_m.forEach((place, n) => {
      if (Math.abs(place - cursor) < Math.abs((lap.at_m[best] ?? 0) - cursor)) best = n
    })
    return best
  })
  function moved(event: PointerEvent): void {
    if (still) return
    const box = (event.currentTarget as Element).getBoundingClientRect()
    const place = px.invert(((event.clientX - box.left) / box.width) * width)
    view.cursorM = Math.min(Math.max(place, 0), length)
  }
</script>

<svg
  {width}
  height={HEIGHT}
  viewBox="0 0 {width} {HEIGHT}"
  role="img"
  aria-label="Driven lap against predicted lap, with time lost along the lap"
  data-testid="laps-plot"
  onpointermove={moved}
>
  {#each py.ticks(4) as tick (tick)}
    <path d="M{LEFT} {py(tick)}H{width - RIGHT}" stroke="var(--hair)" />
    <text x={LEFT - 6} y={py(tick) + 4} text-anchor="end" class="tick">{plain(tick, 0)}</text>
  {/each}
  {#each corners as corner (corner.number)}
    {@const x = px(corner.at_m)}
    {@const chosen = !still && view.corner === corner.number}
    <path d="M{x} {CURVE}V{HEIGHT - 12}" stroke={chosen ? 'var(--cool)' : 'var(--hair)'} />
    <text {x} y={CURVE + 15} text-anchor="middle" class="number">{corner.number + 1}</text>
  {/each}
  {#each losses as one (one.x)}
    <text x={one.x} y={CURVE + 30} text-anchor="middle" class="tick">{one.text}</text>
  {/each}
  <path d="M{LEFT} {CURVE}H{width - RIGHT}" stroke="var(--ink)" />
  <path d={line(lap.predicted_ms, (value) => py(units.speed(value)))} class="predicted" />
  <path d={line(lap.driven_ms, (value) => py(units.speed(value)))} class="driven" />
  <path d="M{LEFT} {loss(0)}H{width - RIGHT}" stroke="var(--rule)" />
  <path d={line(lap.loss_s, (value) => loss(value))} class="loss" data-testid="loss-curve" />
  <text x={LEFT - 6} y={loss(most) + 4} text-anchor="end" class="tick"
    >{timeDifference(most, 1)}</text
  >
  <text x={LEFT - 6} y={loss(0) + 4} text-anchor="end" class="tick">0 s</text>
  <text x={LEFT - 6} y={CURVE + 30} text-anchor="end" class="tick">lost s</text>
  <text x={LEFT + 4} y="12" class="tick"
    >{units.speedUnit}: predicted solid, driven dashed; below, seconds lost so far</text
  >
  {#if at !== null}
    {@const x = px(lap.at_m[at] ?? 0)}
    <path d="M{x} 16V{HEIGHT - 12}" stroke="var(--cool)" />
    <text
      x={x + (x > width - 210 ? -6 : 6)}
      y="28"
      text-anchor={x > width - 210 ? 'end' : 'start'}
      class="said"
      >{plain(units.length(lap.at_m[at] ?? 0), 0)}
      {units.lengthUnit}: {plain(units.speed(lap.driven_ms[at] ?? 0), 1)} for {plain(
        units.speed(lap.predicted_ms[at] ?? 0),
        1,
      )}, {timeDifference(lap.loss_s[at] ?? 0, 2)} s</text
    >
  {/if}
</svg>

<style>
  .tick {
    font-size: 11.5px;
    fill: var(--ink-2);
  }
  .number {
    font-family: var(--figures);
    font-size: 12.5px;
    font-weight: 600;
    fill: var(--ink);
  }
  .predicted {
    fill: none;
    stroke: var(--coast);
    stroke-width: 1.6;
  }
  .driven {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.9;
    stroke-dasharray: 6 3;
  }
  .loss {
    fill: none;
    stroke: var(--ink);
    stroke-width: 2.2;
  }
  .said {
    font-family: var(--figures);
    font-size: 14px;
    font-weight: 600;
    fill: var(--ink);
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 4px;
  }
</style>
