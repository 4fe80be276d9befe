<script lang="ts">
  import type { View } from '../state/view.svelte'

  /** Ways in and out of the circuit: a file of points, and the road in open formats. */
  let { view, planId }: { view: View; planId: number } = $props()

  const FORMATS = [
    { format: 'geojson', label: 'GeoJSON' },
    { format: 'gpx', label: 'GPX' },
    { format: 'points.csv', label: 'points' },
    { format: 'segments.csv', label: 'segments' },
    { format: 'svg', label: 'SVG map' },
  ] as const
</script>

<p class="px-0 py-0.5 gap-x-2.5 gap-y-0.5 flex flex-wrap text-[14px]">
  <button class="link" onclick={() => (view.sheet = 'import')}>Import a circuit</button>
  <span class="unit">GPX, GeoJSON, CSV</span>
</p>
<p class="px-0 py-0.5 gap-x-2.5 gap-y-0.5 flex flex-wrap text-[14px]">
  <span class="unit">Export as</span>
  {#each FORMATS as one (one.format)}
    <a class="link" href="/api/plans/{planId}/road.{one.format}" download>{one.label}</a>
  {/each}
</p>
