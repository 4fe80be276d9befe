<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { LapAgainst, Result } from '../api/client'
  import { plain, timeDifference } from '../parts/format'
  import type { View } from '../state/view.svelte'

  /** The driven lap, dashed, on the predicted one, and under them the time that is lost on the way. */
  let { lap, result, view, width }: { lap: LapAgainst; result: Result; view: View; width: number } =
    $props()

  const HEIGHT = 250
  const CURVE = 160
  const LEFT = 44
  const RIGHT = 12
  const units = $derived(view.units)
  const length = $derived(result.length_m)
  const px = $derived(scaleLinear([0, length], [LEFT, width - RIGHT]))
  const most = $derived(Math.max(...lap.driven_ms, ...lap.predicted_ms))
  const py = $derived(scaleLinear([0, units.speed(most) * 1.06], [CURVE, 16]))
  const worst = $derived(Math.max(0.05, ...lap.loss_s.map((value) => Math.abs(value))))
  const loss = $derived(scaleLinear([-worst, worst], [CURVE + 26, HEIGHT - 14]))
  const line = (values: number[], y: (value: number) => number): string =>
    values
      .map(
        (value, n) =>
          `${n === 0 ? 'M' : 'L'}${px(lap.at_m[n] ?? 0).toFixed(1)} ${y(value).toFixed(1)}`,
      )
      .join('')
  const at = $derived.by(() => {
    const cursor = view.cursorM
    if (cursor === null) return null
    let best = 0
    lap.at_m.forEach((place, n) => {
      if (Math.abs(place - cursor) < Math.abs((lap.at_m[best] ?? 0) - cursor)) best = n
    })
    return best
  })
  function moved(event: PointerEvent): void {
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
  {#each result.corners as corner, number (number)}
    {@const x = px(corner.min_speed_at_m)}
    <path
      d="M{x} {CURVE}V{HEIGHT - 14}"
      stroke={view.corner === number ? 'var(--cool)' : 'var(--hair)'}
    />
    <text {x} y={CURVE + 15} text-anchor="middle" class="number">{number + 1}</text>
  {/each}
  <path d="M{LEFT} {CURVE}H{width - RIGHT}" stroke="var(--ink)" />
  <path d={line(lap.predicted_ms, (value) => py(units.speed(value)))} class="predicted" />
  <path d={line(lap.driven_ms, (value) => py(units.speed(value)))} class="driven" />
  <path d="M{LEFT} {loss(0)}H{width - RIGHT}" stroke="var(--rule)" />
  <path d={line(lap.loss_s, (value) => loss(value))} class="loss" data-testid="loss-curve" />
  <text x={LEFT - 6} y={loss(worst) + 4} text-anchor="end" class="tick"
    >{timeDifference(worst, 1)}</text
  >
  <text x={LEFT - 6} y={loss(0) + 4} text-anchor="end" class="tick">0 s</text>
  <text x={LEFT + 4} y="12" class="tick"
    >{units.speedUnit}: predicted solid, driven dashed; seconds lost below</text
  >
  {#if at !== null}
    {@const x = px(lap.at_m[at] ?? 0)}
    <path d="M{x} 16V{HEIGHT - 14}" stroke="var(--cool)" />
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
    stroke: var(--ember);
    stroke-width: 1.6;
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
