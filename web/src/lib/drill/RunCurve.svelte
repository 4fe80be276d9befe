<script lang="ts">
  import type { DrillRun } from '../api/client'
  import { whole } from '../parts/format'
  import type { View } from '../state/view.svelte'

  /** The lap's speed along its way, with where one is now. */
  let {
    lap,
    view,
    atM,
    vMs,
    width,
  }: { lap: DrillRun; view: View; atM: number; vMs: number; width: number } = $props()

  const HEIGHT = 150
  const units = $derived(view.units)
  const fastest = $derived(Math.max(...lap.v_ms))
  const x = $derived((at: number) => (at / lap.length_m) * width)
  const y = $derived((v: number) => HEIGHT - 24 - (v / fastest) * (HEIGHT - 44))
  const line = $derived(
    lap.s_m
      .map((at, n) => `${n ? 'L' : 'M'}${x(at).toFixed(1)} ${y(lap.v_ms[n] ?? 0).toFixed(1)}`)
      .join(''),
  )
  /** Lows that stand too near to one that is slower go without their figure. */
  const lows = $derived(
    lap.corners.map((corner, n) => ({
      n,
      // A figure at the edge of the page stays on it.
      at: Math.min(Math.max(x(corner.slowest_m), 16), width - 16),
      v: corner.min_speed_ms,
      crowded: lap.corners.some(
        (other, k) =>
          k !== n &&
          Math.abs(x(other.slowest_m) - x(corner.slowest_m)) < 30 &&
          (other.min_speed_ms < corner.min_speed_ms ||
            (other.min_speed_ms === corner.min_speed_ms && k < n)),
      ),
    })),
  )
</script>

<svg
  class="block max-w-full"
  {width}
  height={HEIGHT}
  role="img"
  aria-label="Speed along the lap"
  data-testid="run-curve"
>
  <path d={line} fill="none" stroke="var(--ink)" stroke-width="2.600" />
  <path d="M0 {HEIGHT - 20}H{width}" stroke="var(--ink)" stroke-width="1.400" />
  {#each lows as low (low.n)}
    {#if !low.crowded}
      <text x={low.at} y={y(low.v) + 20} text-anchor="middle">{whole(units.speed(low.v))}</text>
    {/if}
    <text class="number" x={low.at} y={HEIGHT - 5} text-anchor="middle">{low.n + 1}</text>
  {/each}
  <path d="M{x(atM)} 0V{HEIGHT - 20}" stroke="var(--ember)" stroke-width="1.400" />
  <circle cx={x(atM)} cy={y(vMs)} r="6" fill="var(--ember)" />
</svg>

<style>
  text {
    font-family: var(--figures);
    font-size: 18px;
    font-weight: 600;
    fill: var(--ink);
  }
  .number {
    font-size: 14px;
    fill: var(--ink-2);
  }
</style>
