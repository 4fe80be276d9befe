<script lang="ts">
  import { untrack } from 'svelte'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { plain, timeDifference, whole } from '../parts/format'
  import type { CarWork } from './work.svelte'

  /** Which axle locks first at each braking zone, and what each fixed share costs the lap. */
  let { bench, work, view }: { bench: Workbench; work: CarWork; view: View } = $props()

  $effect(() => {
    void bench.open
    untrack(() => void work.study())
  })
  const study = $derived(work.brakes)
  const most = $derived(Math.max(0.02, ...(study?.costs ?? []).map((one) => one.cost_s)))
  const percent = (share: number): string => `${plain(100 * share, 1)} %`
  let refusal = $state('')
  async function take(share: number | null): Promise<void> {
    bench.change({ field: 'brake_front_fraction', value: share })
    await bench.settle()
    refusal = bench.refusal?.key === 'brake_front_fraction' ? bench.refusal.message : ''
  }
</script>

{#if study}
  <div class="columns pt-2 gap-7.5 flex flex-wrap">
    <div>
      <h2 class="figure pb-0.5 text-[18px]">Each braking zone</h2>
      {#if study.zones.length === 0}
        <p class="unit">No braking on this lap.</p>
      {:else}
        <table class="ruled w-auto" data-testid="brake-zones">
          <thead>
            <tr>
              <th scope="col">Corner</th>
              <th scope="col" class="number">From {view.units.speedUnit}</th>
              <th scope="col" class="number">Peak g</th>
              <th scope="col" class="number">Ideal front share</th>
              <th scope="col">Locks first</th>
            </tr>
          </thead>
          <tbody>
            {#each study.zones as zone, index (index)}
              <tr>
                <td class="place">{zone.corner}</td>
                <td class="number figure">{whole(view.units.speed(zone.speed_ms))}</td>
                <td class="number figure">{zone.decel_g.toFixed(2)}</td>
                <td class="number figure">{percent(zone.ideal_front)}</td>
                <td
                  >{zone.locks_first === null
                    ? 'both together'
                    : zone.locks_first === 'rear'
                      ? 'rear: the car may spin'
                      : 'front: the car runs straight on'}</td
                >
              </tr>
            {/each}
          </tbody>
        </table>
      {/if}
    </div>
    {#if study.costs.length > 0}
      <div>
        <h2 class="figure pb-0.5 text-[18px]">Cost by brake bias</h2>
        <table class="ruled w-auto" data-testid="brake-costs">
          <thead>
            <tr>
              <th scope="col" class="number">Front</th>
              <th scope="col" class="number">Lap</th>
              <th scope="col"><span class="sr-only">Cost bar</span></th>
              <th scope="col"><span class="sr-only">Remark</span></th>
            </tr>
          </thead>
          <tbody>
            {#each study.costs as one (one.front_share)}
              <tr class:chosen={study.front_share === one.front_share}>
                <td class="number figure">{percent(one.front_share)}</td>
                <td class="number figure">{timeDifference(one.cost_s)}</td>
                <td
                  ><svg width="120" height="12" aria-hidden="true"
                    ><path
                      d="M0 6H{(118 * one.cost_s) / most}"
                      stroke="var(--ink)"
                      stroke-width="5"
                    /></svg
                  ></td
                >
                <td class="unit"
                  >{one.front_share === study.best ? 'quickest' : ''}
                  {#if one.front_share !== study.front_share}
                    <button
                      class="link"
                      aria-label="Set brake bias to {percent(one.front_share)} front"
                      onclick={() => void take(one.front_share)}>Set</button
                    >
                  {:else}as set{/if}</td
                >
              </tr>
            {/each}
          </tbody>
        </table>
        {#if refusal}<p role="alert" class="refusal">{refusal}</p>{/if}
      </div>
      <div class="gap-2 max-w-75 text-[15px] flex flex-col">
        <p>
          Now: <span class="figure"
            >{study.front_share === null ? 'ideal' : percent(study.front_share)}</span
          >{#if study.front_share !== null}, <button class="link" onclick={() => void take(null)}
              >Use the ideal</button
            >{/if}.
        </p>
        {#if study.safe !== null}
          <p>
            From <span class="figure">{percent(study.safe)}</span> front, no zone locks the rear axle
            first. Below that, the car may spin under braking.
          </p>
        {/if}
        {#if study.ideal_lap_s !== null && bench.result}
          <p class="unit">
            With the ideal share everywhere: {timeDifference(
              study.ideal_lap_s - bench.result.lap_time_s,
            )} s a lap.
          </p>
        {/if}
        <p class="unit">
          Ideal is the share at which both axles reach their limit together in a straight-line stop
          from that speed.
        </p>
      </div>
    {/if}
  </div>
{:else}
  <p class="unit px-0 py-7.5">Calculating the shares…</p>
{/if}

<style>
  th,
  td {
    padding: 1px 14px 1px 0;
  }
  td.figure {
    font-size: 16px;
  }
  .chosen {
    background: var(--wash);
  }
</style>
