<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Energy, Result } from '../api/client'
  import { plain } from '../parts/format'
  import type { View } from '../state/view.svelte'

  /**
   * Energy on the tide curve: where it is spent the echo of the curve thickens, and below the base
   * line stand what a kilojoule is worth at every place, its one price, and the store's charge.
   */
  let {
    energy,
    result,
    view,
    width,
  }: { energy: Energy; result: Result; view: View; width: number } = $props()

  const LEFT = 56
  const RIGHT = 14
  const CURVE = 150
  const WORTH = 76
  const CHARGE = 52
  const height = CURVE + WORTH + CHARGE + 44
  const curve = $derived(energy.curve)
  const units = $derived(view.units)
  const x = $derived(scaleLinear([0, result.length_m], [LEFT, width - RIGHT]))
  const fastest = $derived(Math.max(...curve.speed_ms))
  const slowest = $derived(Math.min(...curve.speed_ms))
  const v = $derived(
    scaleLinear([units.speed(slowest) * 0.85, units.speed(fastest) * 1.04], [CURVE, 16]),
  )
  const dearest = $derived(Math.max(0.1, ...curve.worth_ms_per_kj))
  const worth = $derived(scaleLinear([0, dearest], [CURVE + 22 + WORTH, CURVE + 26]))
  const charges = $derived([Math.min(...curve.charge_mj), Math.max(...curve.charge_mj)])
  const base = $derived(CURVE + 22 + WORTH + 12)
  const charge = $derived(scaleLinear(charges, [base + CHARGE, base + 6]))
  const path = (values: number[], y: (value: number) => number): string =>
    values
      .map(
        (value, n) =>
          `${n === 0 ? 'M' : 'L'}${x(curve.s_m[n] ?? 0).toFixed(1)} ${y(value).toFixed(1)}`,
      )
      .join('')
  /** Stretches in a row where power is given. */
  const spent = $derived.by(() => {
    const found: number[][] = []
    curve.power_kw.forEach((power, n) => {
      if (power <= 0.5) return
      const last = found.at(-1)
      if (last && last.at(-1) === n - 1) last.push(n)
      else found.push([n])
    })
    return found
  })
  const echo = (stretch: number[], down: number): string =>
    stretch
      .map(
        (n, i) =>
          `${i === 0 ? 'M' : 'L'}${x(curve.s_m[n] ?? 0).toFixed(1)} ${(v(units.speed(curve.speed_ms[n] ?? 0)) + down).toFixed(1)}`,
      )
      .join('')
</script>

<svg
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  role="img"
  aria-label="Energy along the lap: deployment, value of a kilojoule, and state of charge"
  data-testid="energy-curve"
>
  {#each v.ticks(4) as tick (tick)}
    <path d="M{LEFT} {v(tick)}H{width - RIGHT}" stroke="var(--hair)" />
    <text x={LEFT - 6} y={v(tick) + 4} text-anchor="end" class="tick">{plain(tick, 0)}</text>
  {/each}
  {#each result.corners as corner, number (number)}
    <path d="M{x(corner.min_speed_at_m)} {CURVE}V{height - 4}" stroke="var(--hair)" />
    <text x={x(corner.min_speed_at_m)} y={CURVE + 14} text-anchor="middle" class="number"
      >{number + 1}</text
    >
  {/each}
  {#each spent as stretch (stretch[0])}
    {#each [4, 8, 12, 16] as down (down)}
      <path d={echo(stretch, down)} class="echo" stroke-width={3.4 - down / 8} />
    {/each}
  {/each}
  <path d={path(curve.speed_ms, (ms) => v(units.speed(ms)))} class="curve" />
  <path d="M{LEFT} {CURVE}H{width - RIGHT}" stroke="var(--ink)" stroke-width="1.4" />
  <path d={path(curve.worth_ms_per_kj, worth)} class="worth" />
  <path
    d="M{LEFT} {worth(Math.min(energy.price_ms_per_kj, dearest))}H{width - RIGHT}"
    class="price"
  />
  <text x={LEFT - 6} y={worth(0) + 4} text-anchor="end" class="tick">0</text>
  <text x={LEFT - 6} y={worth(dearest) + 10} text-anchor="end" class="tick"
    >{plain(dearest, 1)}</text
  >
  <text x={LEFT + 4} y={CURVE + 34} class="tick said"
    >value of a kilojoule, ms; dashed: marginal price, {plain(energy.price_ms_per_kj, 2)} ms</text
  >
  <path d={path(curve.charge_mj, charge)} class="charge" />
  {#each charges as tick, n (n)}
    <text x={LEFT - 6} y={charge(tick) + 4} text-anchor="end" class="tick"
      >{plain(tick - (charges[0] ?? 0), 1)}</text
    >
  {/each}
  <text x={LEFT + 4} y={base + 12} class="tick said">state of charge, MJ above its lowest</text>
</svg>

<style>
  .said {
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 4px;
  }
  .number {
    font-family: var(--figures);
    font-size: 14px;
    font-weight: 600;
    fill: var(--ink);
  }
  path {
    fill: none;
  }
  .curve {
    stroke: var(--ink);
    stroke-width: 2.4;
  }
  .echo {
    stroke: var(--cool);
  }
  .worth {
    stroke: var(--ink);
    stroke-width: 1.4;
  }
  .price {
    stroke: var(--cool);
    stroke-width: 1.6;
    stroke-dasharray: 6 4;
  }
  .charge {
    stroke: var(--coast);
    stroke-width: 1.8;
  }
</style>
