<script lang="ts">
  import { scales, ticks } from '../curve/geometry'
  import type { Result } from '../api/client'

  /** The staff scale beside the curve: bars of ten, figures at the fifties. */
  let { result, opened, height }: { result: Result; opened: Result | null; height: number } =
    $props()

  const base = $derived(height - 40)
  const scale = $derived(
    scales(opened ? [result, opened] : [result], result.length_m, {
      width: 100,
      top: 74,
      base,
      under: 52,
    }),
  )
  const bars = $derived(
    ticks(scale.baseKmh, scale.topKmh, 10).map((speed) => ({
      speed,
      top: scale.y(Math.min(speed + 10, scale.topKmh) / 3.6),
      bottom: scale.y(speed / 3.6),
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
      fill={(bar.speed / 10) % 2 === 0 ? 'var(--ink)' : 'var(--paper)'}
      stroke="var(--ink)"
      stroke-width="1"
    />
  {/each}
  {#each ticks(scale.baseKmh + 8, scale.topKmh, 50) as speed (speed)}
    <text x="26" y={scale.y(speed / 3.6) + 4.5} text-anchor="end" font-size="13" fill="var(--ink)"
      >{speed}</text
    >
  {/each}
  <text x="26" y={base - 4} text-anchor="end" font-size="13" fill="var(--ink-2)">km/h</text>
</svg>
