<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Passing, Result } from '../api/client'
  import { plain } from '../parts/format'
  import type { Units } from '../parts/units'

  /**
   * Where the tow works: on the speed of the lap each straight before a braking is drawn heavy where
   * overtaking is possible there, light where it is not, with the metres that are closed on it.
   */
  let {
    passing,
    result,
    units,
    width,
  }: { passing: Passing; result: Result; units: Units; width: number } = $props()

  const HEIGHT = 170
  const LEFT = 44
  const RIGHT = 12
  const trace = $derived(result.trace)
  const x = $derived(scaleLinear([0, result.length_m], [LEFT, width - RIGHT]))
  const fastest = $derived(Math.max(...trace.v_ms))
  const y = $derived(scaleLinear([0, units.speed(fastest) * 1.18], [HEIGHT - 20, 12]))
  const point = (n: number): string =>
    `${x(trace.s_m[n] ?? 0).toFixed(1)} ${y(units.speed(trace.v_ms[n] ?? 0)).toFixed(1)}`
  const curve = $derived(`M${trace.s_m.map((_, n) => point(n)).join('L')}`)

  const stretches = $derived(
    passing.places.flatMap((place) => {
      const brakes = result.corners[place.corner]?.brake_start_at_m
      if (brakes === null || brakes === undefined) return []
      const from = brakes - place.straight_m
      // A straight that crosses the line is drawn on both sides of it.
      const parts =
        from >= 0
          ? [[from, brakes]]
          : [
              [from + result.length_m, result.length_m],
              [0, brakes],
            ]
      const paths = parts.map(([low = 0, high = 0]) =>
        trace.s_m.flatMap((s, n) => (s >= low && s <= high ? [point(n)] : [])).join('L'),
      )
      const at = trace.s_m.findIndex((s) => s >= brakes)
      return [{ place, paths, brakes, top: y(units.speed(trace.v_ms[Math.max(at, 0)] ?? 0)) }]
    }),
  )
</script>

<svg
  class="max-w-full h-auto"
  {width}
  height={HEIGHT}
  viewBox="0 0 {width} {HEIGHT}"
  role="img"
  aria-label="Where the tow works along the lap: {passing.places
    .map(
      (place) =>
        `${place.name}, ${plain(units.length(place.closed_m), 0)} ${units.lengthUnit} closed, ${place.possible ? 'overtaking possible' : 'not possible'}`,
    )
    .join('; ')}"
  data-testid="passing-curve"
>
  {#each y.ticks(4) as tick (tick)}
    <path d="M{LEFT} {y(tick)}H{width - RIGHT}" stroke="var(--hair)" />
    <text x={LEFT - 6} y={y(tick) + 4} text-anchor="end" class="tick">{plain(tick, 0)}</text>
  {/each}
  <path d={curve} fill="none" stroke="var(--ink-2)" stroke-width="1.2" />
  {#each stretches as one (one.place.corner)}
    {#each one.paths.filter((path) => path !== '') as path, n (n)}
      <path
        d="M{path}"
        fill="none"
        stroke={one.place.possible ? 'var(--ink)' : 'var(--coast)'}
        stroke-width={one.place.possible ? 6 : 4}
      />
    {/each}
    <text x={x(one.brakes)} y={one.top - 8} text-anchor="end" class="name"
      >{one.place.name}
      {plain(units.length(one.place.closed_m), 0)}
      {units.lengthUnit}</text
    >
  {/each}
</svg>
<p class="unit">
  Heavy and dark: overtaking is possible into this corner; light: it is not. The figure is what the
  tow closes on the straight before it.
</p>

<style>
  .name {
    font: 600 13px var(--labels);
    fill: var(--ink);
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 4px;
  }
</style>
