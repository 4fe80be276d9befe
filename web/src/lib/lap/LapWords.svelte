<script lang="ts">
  import type { Result } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { lapTime, whole } from '../parts/format'
  import { cornerInWords } from './words'

  /** The curve told in words, one sentence a corner. */
  let { result, view }: { result: Result; view: View } = $props()
</script>

<p>
  {whole(view.units.length(result.length_m))}
  {view.units.lengthUnit} in {lapTime(result.lap_time_s)}; top speed
  {whole(view.units.speed(result.top_speed_ms))}
  {view.units.speedUnit}, mean {whole(view.units.speed(result.mean_speed_ms))}
  {view.units.speedUnit}; full throttle on {whole(result.full_throttle_pct)} % of the way;
  {result.upshift_count} upshifts and {result.downshift_count} downshifts;
  {(result.brake_energy_kj / 1000).toFixed(1)} MJ into the brakes.
</p>
<ol>
  {#each result.corners as corner, index (index)}
    <li>{cornerInWords(corner, view.units)}</li>
  {/each}
</ol>

<style>
  ol {
    list-style: decimal inside;
    font-size: 15px;
  }
  li {
    border-top: 1px solid var(--hair);
    padding: 3px 0;
  }
  p {
    padding: 4px 0 8px;
    font-size: 15px;
  }
</style>
