<script lang="ts">
  import type { ClosureReport } from '../api/client'
  import type { View } from '../state/view.svelte'

  /** Whether the ring closes, in words, and the way to close it. */
  let { view, report, closed }: { view: View; report: ClosureReport | null; closed: boolean } =
    $props()

  const CLOSES_M = 0.01
  const units = $derived(view.units)
  const gap = $derived(report?.gap ?? null)
  const length = (m: number): string =>
    `${units.length(Math.abs(m)).toFixed(2)} ${units.lengthUnit}`
  const parts = $derived(
    gap === null
      ? []
      : [
          Math.abs(gap.ahead_m) >= CLOSES_M &&
            `${length(gap.ahead_m)} ${gap.ahead_m > 0 ? 'too far forward' : 'short'}`,
          Math.abs(gap.left_m) >= CLOSES_M &&
            `${length(gap.left_m)} to the ${gap.left_m > 0 ? 'left' : 'right'}`,
          Math.abs(gap.heading_deg) >= 0.01 &&
            `turned ${Math.abs(gap.heading_deg).toFixed(2)}° too far ${gap.heading_deg > 0 ? 'left' : 'right'}`,
          Math.abs(gap.height_m) >= CLOSES_M &&
            `${length(gap.height_m)} too ${gap.height_m > 0 ? 'high' : 'low'}`,
        ].filter((part): part is string => part !== false),
  )
  const closes = $derived(
    gap !== null &&
      gap.distance_m < CLOSES_M &&
      Math.abs(gap.heading_deg) < 0.001 &&
      Math.abs(gap.height_m) < CLOSES_M,
  )
</script>

<section aria-label="Closure" data-testid="closure">
  <h2 class="figure text-[18px]">Closure</h2>
  {#if !closed}
    <p>A point-to-point course need not close.</p>
  {:else if gap === null}
    <p class="unit">Checking the closure…</p>
  {:else if closes}
    <p>The circuit closes within a centimetre.</p>
  {:else}
    <p>
      The end misses the start by <b class="figure">{length(gap.distance_m)}</b>:
      {parts.join(', ')}.
    </p>
    <button class="btn btn-sm btn-outline" onclick={() => (view.sheet = 'closing')}
      >Show what would close it</button
    >
    <p class="unit">
      Driven radii need not close, because the car does not follow the middle of the road. The map
      spreads the gap when drawing.
    </p>
  {/if}
</section>

<style>
  p {
    font-size: 14px;
    line-height: 1.35;
    margin: 2px 0 6px;
  }
  p.unit {
    font-size: 13px;
    margin-top: 6px;
  }
</style>
