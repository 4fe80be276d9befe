<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { FitFound } from '../api/client'
  import { plain } from '../parts/format'
  import type { Units } from '../parts/units'

  /**
   * Measured speed less the model's at each corner: hollow before the fit, solid after it. The line
   * through a point is what laps of these runs differ from each other there.
   */
  let { found, units }: { found: FitFound; units: Units } = $props()

  const WIDTH = 520
  const LEFT = 130
  const RIGHT = 14
  const ROW = 20
  const TOP = 22
  const rows = $derived(found.misfits)
  const reach = $derived(
    Math.max(
      units.speed(0.5),
      ...rows.map((one) =>
        units.speed(Math.max(Math.abs(one.before_ms), Math.abs(one.after_ms) + one.unlike_ms)),
      ),
    ),
  )
  const x = $derived(scaleLinear([-reach, reach], [LEFT, WIDTH - RIGHT]))
  const at = (ms: number): number => x(units.speed(ms))
  const height = $derived(TOP + rows.length * ROW + 6)
  const signed = (ms: number): string =>
    `${ms < 0 ? '−' : '+'}${plain(Math.abs(units.speed(ms)), 1)}`
</script>

<svg
  class="max-w-full h-auto"
  width={WIDTH}
  {height}
  viewBox="0 0 {WIDTH} {height}"
  role="img"
  aria-label="Measured less calculated speed at each corner, {units.speedUnit}, before and after the fit: {rows
    .map((one) => `${one.corner} ${signed(one.before_ms)}, ${signed(one.after_ms)}`)
    .join('; ')}"
  data-testid="misfit-plot"
>
  {#each x.ticks(5) as tick (tick)}
    <path d="M{x(tick)} {TOP - 6}V{height - 4}" stroke="var(--hair)" />
    <text x={x(tick)} y="12" text-anchor="middle" class="tick">{plain(tick, 1)}</text>
  {/each}
  <path d="M{x(0)} {TOP - 6}V{height - 4}" stroke="var(--ink)" />
  {#each rows as one, n (one.corner)}
    {@const y = TOP + n * ROW + ROW / 2}
    <text x={LEFT - 8} y={y + 4} text-anchor="end" class="name">{one.corner}</text>
    <path
      d="M{at(one.after_ms - one.unlike_ms)} {y}H{at(one.after_ms + one.unlike_ms)}"
      stroke="var(--cool)"
      stroke-width="1.6"
    />
    <path d="M{at(one.before_ms)} {y}H{at(one.after_ms)}" stroke="var(--rule)" />
    <circle cx={at(one.before_ms)} cy={y} r="4" fill="var(--paper)" stroke="var(--ink)" />
    <circle cx={at(one.after_ms)} cy={y} r="4" fill="var(--ink)" />
  {/each}
</svg>

<style>
  .name {
    font: 600 13px var(--labels);
    fill: var(--ink);
  }
</style>
