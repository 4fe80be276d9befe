<script lang="ts">
  import type { DrawnLine, RoadDrawing } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { pathOf, thinned, ticks, tickStep, type Point } from '../curve/geometry'
  import { whole } from '../parts/format'
  import { dashOf, lineName } from './names'

  /** Speed and curvature along the road, of the line driven and of the one beside it. */
  let {
    road,
    driven,
    other,
    view,
    closed,
    width,
  }: {
    road: RoadDrawing
    driven: DrawnLine
    other: DrawnLine | null
    view: View
    closed: boolean
    width: number
  } = $props()

  const SPEED = 92
  const BEND = 58
  const LEFT = 42
  const units = $derived(view.units)
  const length = $derived(road.road_at_m[road.road_at_m.length - 1] ?? 1)
  const corner = $derived(view.corner === null ? null : (road.corners[view.corner] ?? null))
  /** The stretch that is shown: around the chosen corner, or the lap. */
  const span = $derived(
    corner
      ? { from: corner.begins_at_m - 140, to: corner.ends_at_m + 140 }
      : { from: 0, to: length },
  )
  const x = (at: number): number =>
    LEFT + ((at - span.from) / (span.to - span.from)) * (width - LEFT - 8)

  /** Nodes within the stretch, on a closed road also from the other side of the line. */
  const shown = $derived.by(() => {
    const found: { index: number; at: number }[] = []
    for (const shift of closed ? [-length, 0, length] : [0])
      road.road_at_m.forEach((at, index) => {
        const place = at + shift
        if (place >= span.from && place <= span.to) found.push({ index, at: place })
      })
    return found.sort((a, b) => a.at - b.at)
  })
  const pair = $derived(other ? [driven, other] : [driven])
  const speeds = $derived(
    pair.flatMap((line) => shown.map(({ index }) => units.speed(line.v_ms[index] ?? 0))),
  )
  const low = $derived(Math.max(0, Math.min(...speeds) - 8))
  const high = $derived(Math.max(...speeds) + 4)
  const most = $derived(
    Math.max(
      0.002,
      ...pair.flatMap((line) =>
        shown.map(({ index }) => Math.abs(line.curvature_per_m[index] ?? 0)),
      ),
    ),
  )
  const ySpeed = (ms: number): number =>
    SPEED - ((units.speed(ms) - low) / Math.max(high - low, 1)) * (SPEED - 8)
  const yBend = (kappa: number): number => SPEED + 18 + BEND / 2 - (kappa / most) * (BEND / 2 - 3)

  function curve(line: DrawnLine, y: (index: number) => number): string {
    const points: Point[] = shown.map(({ index, at }) => ({ x: x(at), y: y(index) }))
    return pathOf(thinned(points))
  }
  const told = $derived(
    `Speed and curvature along ${corner ? corner.name : 'the lap'}: ${pair
      .map((line) => lineName(line.kind))
      .join(' and ')}`,
  )
</script>

<svg
  class="block"
  {width}
  height={SPEED + 18 + BEND + 4}
  role="img"
  aria-label={told}
  data-testid="line-strips"
>
  {#each ticks(low, high, tickStep(low, high)) as tick (tick)}
    {@const y = SPEED - ((tick - low) / Math.max(high - low, 1)) * (SPEED - 8)}
    <path d="M{LEFT} {y}H{width - 8}" stroke="var(--hair)" />
    <text x={LEFT - 6} y={y + 4} text-anchor="end" font-size="13" fill="var(--ink-2)"
      >{whole(tick)}</text
    >
  {/each}
  <path d="M{LEFT} {SPEED}H{width - 8}" stroke="var(--ink)" stroke-width="1.4" />
  <path d="M{LEFT} {yBend(0)}H{width - 8}" stroke="var(--rule)" />
  <text x={LEFT - 6} y={yBend(0) - 10} text-anchor="end" font-size="13" fill="var(--ink-2)"
    >left</text
  >
  <text x={LEFT - 6} y={yBend(0) + 19} text-anchor="end" font-size="13" fill="var(--ink-2)"
    >right</text
  >
  {#each road.corners as one, number (number)}
    {#if x(one.begins_at_m) >= LEFT && x(one.ends_at_m) <= width - 8}
      <text
        x={(x(one.begins_at_m) + x(one.ends_at_m)) / 2}
        y={SPEED + 15}
        text-anchor="middle"
        font-size="13"
        fill="var(--ink-2)">{number + 1}</text
      >
      <path d="M{x(one.begins_at_m)} {SPEED}v4M{x(one.ends_at_m)} {SPEED}v4" stroke="var(--ink)" />
    {/if}
  {/each}
  {#each [...pair].reverse() as line (line.kind)}
    {@const own = line.kind === driven.kind}
    <path
      d={curve(line, (index) => ySpeed(line.v_ms[index] ?? 0))}
      fill="none"
      stroke={own ? 'var(--ink)' : 'var(--ink-2)'}
      stroke-width={own ? 2.4 : 1.8}
      stroke-dasharray={own ? '' : dashOf(line.kind) || '12 3'}
    />
    <path
      d={curve(line, (index) => yBend(line.curvature_per_m[index] ?? 0))}
      fill="none"
      stroke={own ? 'var(--ink)' : 'var(--ink-2)'}
      stroke-width={own ? 1.8 : 1.4}
      stroke-dasharray={own ? '' : dashOf(line.kind) || '12 3'}
    />
  {/each}
  <text x={width - 8} y="10" text-anchor="end" font-size="13" fill="var(--ink-2)"
    >{units.speedUnit}</text
  >
  <text
    x={width - 8}
    y={yBend(0) - BEND / 2 + 10}
    text-anchor="end"
    font-size="13"
    fill="var(--ink-2)"
    >curvature, up to a radius of {whole(units.length(1 / most))} {units.lengthUnit}</text
  >
</svg>
