<script lang="ts">
  import type { Comparison, Result } from '../api/client'
  import { scales, ticks, tickStep, type Frame } from '../curve/geometry'
  import type { Units } from '../parts/units'

  /** The staff scale beside the curve: bars of a fifth of what stands between two figures. */
  let {
    result,
    comparison,
    frame,
    height,
    units,
  }: {
    result: Result
    comparison: Comparison | null
    frame: Frame
    height: number
    units: Units
  } = $props()

  const scale = $derived(
    scales(
      [...result.trace.v_ms, ...(comparison?.base_speed_ms ?? [])],
      result.length_m,
      frame,
      units,
    ),
  )
  const step = $derived(tickStep(scale.low, scale.high))
  const bar = $derived(step / 5)
  /** The figures; the lowest gives way to the unit at the foot. */
  const named = $derived(
    ticks(scale.low, scale.high, step).filter((speed) => y(speed) < frame.base - 18),
  )
  const y = (speed: number): number => scale.y(units.read(speed, 'speed'))
  const bars = $derived(
    ticks(scale.low, scale.high, bar).map((speed) => ({
      speed,
      top: y(Math.min(speed + bar, scale.high)),
      bottom: y(speed),
      dark: Math.round(speed / bar) % 2 === 0,
    })),
  )
</script>

<svg width="40" {height} viewBox="0 0 40 {height}" aria-hidden="true" class="overflow-visible">
  {#each bars as bar (bar.speed)}
    <rect
      x="31"
      y={bar.top}
      width="6"
      height={Math.max(bar.bottom - bar.top, 0)}
      fill={bar.dark ? 'var(--ink)' : 'var(--paper)'}
      stroke="var(--ink)"
      stroke-width="1"
    />
  {/each}
  {#each named as speed (speed)}
    <text x="26" y={y(speed) + 4.5} text-anchor="end" font-size="13" fill="var(--ink)">{speed}</text
    >
  {/each}
  <text x="26" y={frame.base - 4} text-anchor="end" font-size="13" fill="var(--ink-2)"
    >{units.speedUnit}</text
  >
</svg>
