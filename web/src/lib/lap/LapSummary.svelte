<script lang="ts">
  import type { Comparison, PlanBands, Result } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { changedParts, lineName } from '../line/names'
  import { lapTime, timeDifference } from '../parts/format'

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
      class="figure time"
      data-testid="lap-time"
      title="Its working"
      onclick={() => {
        view.openCorner(result)
        view.openWorking('lap_time_s')
      }}>{lapTime(result.lap_time_s)}</button
    >
  </div>
  {#if view.bands}
    <button class="band" data-testid="lap-band" onclick={() => (view.sheet = 'bands')}>
      {#if bands}<span class="figure">{lapTime(bands.lap_time_s.low)}</span>
        <span class="unit">to</span>
        <span class="figure">{lapTime(bands.lap_time_s.high)}</span>{:else}<span class="unit"
          >the band is being driven…</span
        >{/if}
    </button>
  {/if}
  {#if result.line}
    <div class="line">
      <button class="link" onclick={() => view.turnTo('line')}
        >{lineName(result.line.driven)}{result.line.driven === 'centre' ? '' : ' line'}</button
      >{#if result.line.changed_since.length > 0}, computed before
        {changedParts(result.line.changed_since)} changed{/if}
    </div>
  {/if}
  <div class="against">
    {#if comparison}
      <span class="figure" data-testid="lap-difference">{timeDifference(comparison.lap_s)}</span>
      <span class="unit">s against {lapTime(comparison.base_lap_time_s)}</span>
      {#if comparison.corners === null}<span class="unit">on another course</span>{/if}
    {/if}
  </div>
  <dl>
    {#each result.sector_times_s as time, index (index)}
      {@const difference = comparison?.sectors_s[index]}
      <div>
        <dt>Sector {index + 1}</dt>
        <dd>
          {#if difference !== undefined}<span class="unit">{timeDifference(difference)}</span>{/if}
          <span class="figure">{time.toFixed(3)}</span>
        </dd>
      </div>
    {/each}
    {#if result.fuel_litres}
      <div>
        <dt>Fuel</dt>
        <dd>
          <span class="figure">{result.fuel_litres.toFixed(2)}</span> <span class="unit">l</span>
        </dd>
      </div>
    {/if}
    {#if result.lift_cost_s >= 0.005}
      <div>
        <dt>Lifting costs</dt>
        <dd><span class="figure">{timeDifference(result.lift_cost_s)}</span></dd>
      </div>
    {/if}
  </dl>
</section>

<style>
  .time {
    font-size: 41px;
    line-height: 1;
    letter-spacing: -0.02em;
    cursor: help;
    display: block;
    margin-top: 1px;
  }
  .band {
    display: block;
    cursor: pointer;
    line-height: 1.2;
    border-bottom: 1px dotted var(--ink-2);
    white-space: nowrap;
  }
  .band .figure {
    font-size: 15px;
  }
  .line {
    line-height: 1.25;
    font-size: 13px;
  }
  .against {
    line-height: 1.3;
    padding: 2px 0;
  }
  .against .figure {
    font-size: 18px;
  }
  dl > div {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    border-top: 1px solid var(--hair);
    height: 21px;
  }
  dt {
    font-weight: 500;
  }
  dd .figure {
    font-size: 16px;
  }
</style>
