<script lang="ts">
  import type { Comparison, PlanBands, Result } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { changedParts, lineName } from '../line/names'
  import { lapTime, plain, timeDifference } from '../parts/format'

  /** Lap time, what it is against the baseline, sectors, and the facts that belong to the lap. */
  let {
    bench,
    result,
    comparison,
    bands,
    view,
  }: {
    bench: Workbench
    result: Result
    comparison: Comparison | null
    bands: PlanBands | null
    view: View
  } = $props()
</script>

<section aria-label="Predicted lap">
  <div class="unit">
    {bench.open?.plan.circuit.closed === false ? 'Predicted run' : 'Predicted lap'}
  </div>
  <div aria-live="polite">
    <button
      class="figure mt-px text-[41px] leading-none tracking-[-0.02em] cursor-help block"
      data-testid="lap-time"
      title="Show the working"
      onclick={() => {
        view.openCorner(result)
        view.openWorking('lap_time_s')
      }}>{lapTime(result.lap_time_s)}</button
    >
  </div>
  {#if view.bands}
    <button
      class="dotted-below block cursor-pointer leading-[1.2] whitespace-nowrap"
      data-testid="lap-band"
      onclick={() => (view.sheet = 'bands')}
    >
      {#if bands}<span class="figure text-[15px]">{lapTime(bands.lap_time_s.low)}</span>
        <span class="unit">to</span>
        <span class="figure text-[15px]">{lapTime(bands.lap_time_s.high)}</span>{:else}<span
          class="unit">calculating the band…</span
        >{/if}
    </button>
  {/if}
  {#if result.line}
    <div class="line leading-[1.25] text-[13px]">
      <button class="link" onclick={() => view.turnTo('line')}
        >{lineName(result.line.driven)}{result.line.driven === 'centre' ? '' : ' line'}</button
      >{#if result.line.changed_since.length > 0}, calculated before
        {changedParts(result.line.changed_since)} changed{/if}
    </div>
  {/if}
  <div class="px-0 py-0.5 leading-[1.3]">
    {#if comparison}
      <span class="figure text-[18px]" data-testid="lap-difference"
        >{timeDifference(comparison.lap_s)}</span
      >
      <span class="unit">s against {lapTime(comparison.base_lap_time_s)}</span>
      {#if comparison.corners === null}<span class="unit">on a different circuit</span>{/if}
    {/if}
  </div>
  <dl>
    {#each result.sector_times_s as time, index (index)}
      {@const difference = comparison?.sectors_s[index]}
      <div class="border-t border-t-hair flex justify-between items-baseline h-5.25">
        <dt class="font-medium">Sector {index + 1}</dt>
        <dd>
          {#if difference !== undefined}<span class="unit">{timeDifference(difference)}</span>{/if}
          <span class="figure text-[16px]">{time.toFixed(3)}</span>
        </dd>
      </div>
    {/each}
    {#if result.fuel_litres}
      <div class="border-t border-t-hair flex justify-between items-baseline h-5.25">
        <dt class="font-medium">Fuel</dt>
        <dd>
          <span class="figure text-[16px]"
            >{plain(view.units.show(result.fuel_litres, 'volume'), 2)}</span
          >
          <span class="unit">{view.units.unitOf('volume')}</span>
        </dd>
      </div>
    {/if}
    {#if result.lift_cost_s >= 0.005}
      <div class="border-t border-t-hair flex justify-between items-baseline h-5.25">
        <dt class="font-medium">Cost of lifting</dt>
        <dd><span class="figure text-[16px]">{timeDifference(result.lift_cost_s)}</span></dd>
      </div>
    {/if}
  </dl>
</section>
