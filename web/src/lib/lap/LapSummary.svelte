<script lang="ts">
  import type { Workbench } from '../state/workbench.svelte'
  import type { Result } from '../api/client'
  import { lapTime, timeDifference } from '../parts/format'

  /** Lap time, what the changes made of it, sectors, and the facts of the lap. */
  let { bench, result }: { bench: Workbench; result: Result } = $props()

  const opened = $derived(bench.changed ? bench.opened : null)
</script>

<section aria-label="Predicted lap">
  <div class="unit">Predicted lap</div>
  <div class="figure time" aria-live="polite" data-testid="lap-time">
    {lapTime(result.lap_time_s)}
  </div>
  <div class="against">
    {#if opened}
      <span class="figure" data-testid="lap-difference"
        >{timeDifference(result.lap_time_s - opened.lap_time_s)}</span
      >
      <span class="unit">s against the plan as opened</span>
      <button class="link" onclick={() => void bench.open(bench.planId)}>Go back to it</button>
    {:else}
      <span class="unit">Change any underlined figure: the lap answers at once.</span>
    {/if}
  </div>
  <dl>
    {#each result.sector_times_s as time, index (index)}
      {@const before = opened?.sector_times_s[index]}
      <div>
        <dt>Sector {index + 1}</dt>
        <dd>
          {#if before !== undefined}<span class="unit">{timeDifference(time - before)}</span>{/if}
          <span class="figure">{time.toFixed(3)}</span>
        </dd>
      </div>
    {/each}
    {#if result.lift_cost_s > 0.0005}
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
    margin-top: 1px;
  }
  .against {
    min-height: 38px;
    line-height: 1.35;
    padding: 3px 0;
  }
  .against .figure {
    font-size: 18px;
  }
  .link {
    color: var(--cool);
    text-decoration: underline;
    cursor: pointer;
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
