<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Result, WindLap } from '../api/client'
  import { pathOf, thinned } from '../curve/geometry'
  import { plain, timeDifference } from '../parts/format'
  import type { View } from '../state/view.svelte'

  /** Along the lap: the wind from ahead or behind, and what it has cost so far against still air. */
  let { lap, result, view, width }: { lap: WindLap; result: Result; view: View; width: number } =
    $props()

  const HEIGHT = 196
  const LEFT = 62
  const RIGHT = 54
  const WIND = { top: 22, base: 92 }
  const LOST = { top: 110, base: 186 }
  const LEAST_MS = 0.5
  const LEAST_S = 0.02

  const units = $derived(view.units)
  const along = $derived(lap.along)
  const x = $derived(scaleLinear([0, along.at_m.at(-1) ?? 1], [LEFT, width - RIGHT]))
  const strongest = $derived(Math.max(LEAST_MS, ...along.head_ms.map(Math.abs)))
  const blows = $derived(scaleLinear([-strongest, strongest], [WIND.base, WIND.top]))
  const most = $derived(Math.max(0, ...along.lost_s))
  const least = $derived(Math.min(0, ...along.lost_s))
  const costs = $derived(
    scaleLinear([least, Math.max(most, least + LEAST_S)], [LOST.base, LOST.top]),
  )
  const curve = (values: number[], y: (value: number) => number): string =>
    pathOf(thinned(values.map((value, n) => ({ x: x(along.at_m[n] ?? 0), y: y(value) }))))
  const wind = $derived(curve(along.head_ms, blows))
  const lost = $derived(curve(along.lost_s, costs))
  const area = (path: string, zero: number): string =>
    path === '' ? '' : `${path}V${zero}H${LEFT}Z`
  const last = $derived(along.lost_s.at(-1) ?? 0)
  const lows = $derived(
    result.corners.map((corner, number) => ({ number, x: x(corner.min_speed_at_m) })),
  )
</script>

<svg
  class="max-w-full h-auto"
  {width}
  height={HEIGHT}
  viewBox="0 0 {width} {HEIGHT}"
  role="img"
  aria-label="Wind along the lap, up to {plain(units.show(strongest, 'wind'), 1)} {units.unitOf(
    'wind',
  )} from ahead or behind; time lost against still air, {timeDifference(last)} s at the line"
  data-testid="wind-curve"
>
  <defs>
    <pattern id="ahead" width="5" height="5" patternUnits="userSpaceOnUse">
      <path d="M0 2.5H5" stroke="var(--ink-2)" stroke-width="1" />
    </pattern>
  </defs>
  {#each lows as low (low.number)}
    <path d="M{low.x} {WIND.top - 4}V{LOST.base}" stroke="var(--hair)" />
    <text
      x={low.x}
      y="12"
      text-anchor="middle"
      class="tick"
      class:chosen={view.corner === low.number}>{low.number + 1}</text
    >
  {/each}
  <path d={area(wind, blows(0))} fill="url(#ahead)" />
  <path d={wind} fill="none" stroke="var(--ink)" stroke-width="1.6" />
  <path d="M{LEFT} {blows(0)}H{width - RIGHT}" stroke="var(--rule)" />
  <text x={LEFT - 6} y={WIND.top + 10} text-anchor="end" class="tick">ahead</text>
  <text x={LEFT - 6} y={WIND.base} text-anchor="end" class="tick">behind</text>
  <text x={width - RIGHT + 5} y={WIND.top + 10} class="tick"
    >{plain(units.show(strongest, 'wind'), 1)} {units.unitOf('wind')}</text
  >
  <path d={area(lost, costs(0))} fill="var(--wash)" />
  <path d={lost} fill="none" stroke="var(--ink)" stroke-width="2.2" />
  <path d="M{LEFT} {costs(0)}H{width - RIGHT}" stroke="var(--rule)" />
  <text x={LEFT - 6} y={LOST.top + 12} text-anchor="end" class="tick">slower</text>
  <text x={LEFT - 6} y={LOST.base} text-anchor="end" class="tick">quicker</text>
  <text x={width - RIGHT + 5} y={costs(last) + 5} class="tick">{timeDifference(last)}</text>
</svg>

<style>
  .chosen {
    font-weight: 700;
    fill: var(--ink);
  }
</style>
