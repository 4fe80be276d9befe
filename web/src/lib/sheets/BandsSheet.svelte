<script lang="ts">
  import type { PlanBands } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { lapTime, whole } from '../parts/format'
  import PartRows from './PartRows.svelte'

  /** How sure one is of each figure, and what band of laps that gives. */
  let { bench, view, bands }: { bench: Workbench; view: View; bands: PlanBands | null } = $props()
</script>

<label class="pb-1.5 gap-2 flex items-center text-[15px]">
  <input
    type="checkbox"
    class="checkbox checkbox-sm"
    checked={view.bands}
    onchange={(event) => view.showBands(event.currentTarget.checked)}
  />
  Show the bands <span class="unit">(K)</span>
</label>
<PartRows {bench} {view} part="uncertainty" sign="±" spoken="plus or minus " />
<p class="pt-2 text-[14px] max-w-130">
  Each ± is an 80 % band. The laps are calculated with all figures drawn at random; the lap’s band
  runs from the 10th to the 90th percentile.
</p>
{#if bands}
  <p class="pt-2 text-[14px] max-w-130">
    <b class="figure">{lapTime(bands.lap_time_s.low)}</b> to
    <b class="figure">{lapTime(bands.lap_time_s.high)}</b> in {whole(bands.laps)} laps.
  </p>
{/if}
