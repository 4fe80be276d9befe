<script lang="ts">
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import TrackMap from './TrackMap.svelte'

  /** The map at a size at which every corner carries its name. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  let width = $state(960)
</script>

<div bind:clientWidth={width}>
  {#if bench.result && bench.open}
    <TrackMap
      result={bench.result}
      {view}
      named
      closed={bench.open.plan.circuit.closed}
      northDeg={bench.open.plan.circuit.north_deg}
      windFromDeg={bench.figure('wind_from_deg') ?? 0}
      windMs={bench.figure('wind_speed_ms') ?? 0}
      {width}
      height={Math.min(Math.max(width * 0.6, 260), 600)}
    />
  {/if}
</div>
