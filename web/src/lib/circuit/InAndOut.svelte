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

<p>
  <button class="link" onclick={() => (view.sheet = 'import')}>A circuit from a file</button>
  <span class="unit">GPX, GeoJSON, CSV</span>
</p>
<p>
  <span class="unit">This road as</span>
  {#each FORMATS as one (one.format)}
    <a class="link" href="/api/plans/{planId}/road.{one.format}" download>{one.label}</a>
  {/each}
</p>

<style>
  p {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 10px;
    padding: 2px 0;
    font-size: 14px;
  }
</style>
