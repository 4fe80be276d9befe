<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Sweep, SweepPoint } from '../api/client'
  import { plain } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Reading } from './readings'

  /** One figure swept: a curve with the band of its difference to the plan, where the plan stands, the best, and what is even. */
  let {
    sweep,
    reading,
    view,
    width,
    height,
    at,
    choose,
  }: {
    sweep: Sweep
    reading: Reading
    view: View
    width: number
    height: number
    /** Index of the point that is looked at. */
    at: number
    choose: (index: number) => void
  } = $props()

  const LEFT = 66
  const RIGHT = 22
  const ABOVE = 30
  const BELOW = 40
  const axis = $derived(sweep.axis)
  const units = $derived(view.units)
  const listed = $derived(axis.choices.length > 0)
  const place = (point: SweepPoint, index: number): number =>
    typeof point.value === 'string' ? index : units.show(point.value, axis.quantity)
  const driven = $derived(
    sweep.points.flatMap((point, index) => {
      const y = point.figures ? reading.of(point.figures, point) : null
      return y === null ? [] : [{ point, index, x: place(point, index), y }]
    }),
  )
  const band = $derived(
    reading.banded
      ? driven.flatMap(({ point, x }) => {
          const change = point.change_band
          if (!change) return []
          const base = sweep.present.lap_time_s
          return [{ x, low: base + change.low, high: base + change.high }]
        })
      : [],
  )
  const ends = $derived.by((): [number, number] => {
    const all = sweep.points.map(place)
    const low = Math.min(...all)
    const high = Math.max(...all)
    return listed ? [low - 0.5, high + 0.5] : [low, high]
  })
  const heights = $derived.by((): [number, number] => {
    const all = [
      ...driven.map(({ y }) => y),
      ...band.flatMap(({ low, high }) => [low, high]),
      ...(reading.of(sweep.present) === null ? [] : [reading.of(sweep.present) ?? 0]),
    ]
    const low = Math.min(...all)
    const high = Math.max(...all)
    const room = Math.max((high - low) * 0.08, reading.least)
    return [low - room, high + room]
  })
  const px = $derived(scaleLinear(ends, [LEFT, width - RIGHT]))
  const py = $derived(scaleLinear(heights, [height - BELOW, ABOVE]))
  const xy = (x: number, y: number): string => `${px(x).toFixed(1)} ${py(y).toFixed(1)}`
  const curve = $derived(driven.map(({ x, y }, n) => `${n === 0 ? 'M' : 'L'}${xy(x, y)}`).join(''))
  const bandPath = $derived.by(() => {
    if (band.length < 2 || listed) return ''
    const under = band.map(({ x, low }) => xy(x, low))
    const over = band.map(({ x, high }) => xy(x, high)).reverse()
    return `M${[...under, ...over].join('L')}Z`
  })
  const best = $derived(
    reading.banded ? driven.find(({ index }) => index === sweep.best) : undefined,
  )
  const even = $derived.by(() => {
    if (!reading.banded || !sweep.even || listed) return null
    const [from, to] = [sweep.even.first, sweep.even.last].map((index) => {
      const point = sweep.points[index]
      return point ? px(place(point, index)) : 0
    })
    return from === undefined || to === undefined || to - from < 2 ? null : { from, to }
  })
  const now = $derived.by(() => {
    if (listed) return axis.chosen ? axis.choices.indexOf(axis.chosen) : null
    return typeof axis.present === 'number' ? units.show(axis.present, axis.quantity) : null
  })
  const cursor = $derived(driven.find(({ index }) => index === at))
  const columns = $derived(px.ticks(Math.max(3, Math.round(width / 90))))

  function nearest(event: PointerEvent): void {
    const box = (event.currentTarget as Element).getBoundingClientRect()
    const x = px.invert(((event.clientX - box.left) / box.width) * width)
    const found = [...driven].sort((a, b) => Math.abs(a.x - x) - Math.abs(b.x - x))[0]
    if (found) choose(found.index)
  }
</script>

<svg
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  role="img"
  aria-label="{reading.label} over {axis.label}"
  data-testid="sweep-plot"
  onpointermove={nearest}
>
  {#if even}
    <rect
      x={even.from}
      y={ABOVE}
      width={even.to - even.from}
      height={height - ABOVE - BELOW}
      fill="var(--wash)"
    />
    <text x={(even.from + even.to) / 2} y={ABOVE - 8} text-anchor="middle" class="word">even</text>
  {/if}
  {#if listed}
    {#each sweep.points as point, index (index)}
      <text x={px(index)} y={height - BELOW + 18} text-anchor="middle" class="tick"
        >{point.value}</text
      >
    {/each}
  {:else}
    {#each columns as tick (tick)}
      <path d="M{px(tick)} {height - BELOW}V{ABOVE}" stroke="var(--hair)" />
      <text x={px(tick)} y={height - BELOW + 16} text-anchor="middle" class="tick"
        >{plain(tick, axis.decimals)}</text
      >
    {/each}
  {/if}
  {#each py.ticks(6) as tick (tick)}
    <path d="M{LEFT} {py(tick)}H{width - RIGHT}" stroke="var(--hair)" />
    <text x={LEFT - 6} y={py(tick) + 4} text-anchor="end" class="tick">{reading.said(tick)}</text>
  {/each}
  <path d="M{LEFT} {height - BELOW}H{width - RIGHT}" stroke="var(--ink)" />
  {#if bandPath}<path d={bandPath} class="band" data-testid="sweep-band" />{/if}
  {#if listed}
    {#each band as one (one.x)}
      <path
        d="M{px(one.x)} {py(one.low)}V{py(one.high)}"
        stroke="var(--ink-2)"
        stroke-width="7"
        opacity=".35"
      />
    {/each}
    {#each driven as one (one.index)}
      <path d="M{px(one.x) - 26} {py(one.y)}h52" class="curve" />
    {/each}
  {:else}
    <path d={curve} class="curve" data-testid="sweep-curve" />
    {#each driven as one (one.index)}
      <circle cx={px(one.x)} cy={py(one.y)} r="1.8" fill="var(--ink)" />
    {/each}
  {/if}
  {#if now !== null && now >= ends[0] && now <= ends[1]}
    <path d="M{px(now)} {height - BELOW}V{ABOVE + 4}" stroke="var(--ink)" stroke-dasharray="2 4" />
    <text
      x={px(now) + (px(now) > width - 110 ? -6 : 6)}
      y={ABOVE + 18}
      text-anchor={px(now) > width - 110 ? 'end' : 'start'}
      class="word">the plan</text
    >
  {/if}
  {#if best}
    <path
      d="M{px(best.x) - 8} {py(best.y)}h16M{px(best.x)} {py(best.y) - 8}v16"
      stroke="var(--cool)"
      stroke-width="2.4"
    />
    <text
      x={px(best.x)}
      y={py(best.y) + (py(best.y) > height - BELOW - 40 ? -14 : 26)}
      text-anchor={px(best.x) > width - 90 ? 'end' : px(best.x) < LEFT + 60 ? 'start' : 'middle'}
      class="best">{reading.said(best.y)}</text
    >
  {/if}
  {#if cursor}
    <path d="M{px(cursor.x)} {height - BELOW}V{ABOVE}" stroke="var(--cool)" stroke-width="1" />
    <circle cx={px(cursor.x)} cy={py(cursor.y)} r="4.5" class="cursor" />
  {/if}
  <text x={width - RIGHT} y={height - 6} text-anchor="end" class="tick"
    >{axis.label}{units.unitFor(axis) ? `, ${units.unitFor(axis)}` : ''}</text
  >
  <text x="0" y="14" class="tick">{reading.label}{reading.unit ? `, ${reading.unit}` : ''}</text>
</svg>

<style>
  svg {
    display: block;
    touch-action: pan-y;
  }
  .tick,
  .word {
    font-size: 13px;
    fill: var(--ink-2);
  }
  .word {
    font-family: var(--figures);
    font-style: italic;
    font-size: 15px;
  }
  .best {
    font-family: var(--figures);
    font-size: 19px;
    font-weight: 600;
    fill: var(--ink);
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 4px;
  }
  .curve {
    fill: none;
    stroke: var(--ink);
    stroke-width: 2.6;
    stroke-linejoin: round;
  }
  .band {
    fill: var(--ink-2);
    opacity: 0.16;
  }
  .cursor {
    fill: var(--paper);
    stroke: var(--cool);
    stroke-width: 2.2;
  }
</style>
