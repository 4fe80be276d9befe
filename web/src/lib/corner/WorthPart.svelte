<script lang="ts">
  import type { LapWorth, Result } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { whole } from '../parts/format'

  /** What a little more is worth at every corner, both rankings side by side, linked corners. */
  let {
    view,
    result,
    number,
    worth,
  }: { view: View; result: Result; number: number; worth: LapWorth | null } = $props()

  const units = $derived(view.units)
  /** From seconds per m/s or per metre to seconds for one shown unit. */
  const perSpeed = (s: number | null): string =>
    s === null ? '' : (s * units.read(1, 'speed')).toFixed(3)
  const perLength = (s: number | null): string =>
    s === null ? '' : (s * units.read(1, 'length')).toFixed(3)
  const own = $derived(worth?.corners[number])
  const byTime = $derived([...(worth?.corners ?? [])].sort((a, b) => a.time_rank - b.time_rank))
  const byExit = $derived(
    [...(worth?.corners ?? [])]
      .filter((one) => one.exit_rank !== null)
      .sort((a, b) => (a.exit_rank ?? 0) - (b.exit_rank ?? 0)),
  )
  const linked = $derived(worth?.complexes ?? [])
</script>

{#if worth && own}
  <div
    class="worth gap-x-7 gap-y-0 grid grid-cols-[minmax(0,1.4fr)_minmax(0,1fr)_minmax(0,1fr)] narrow:grid-cols-[1fr]"
  >
    <section aria-label="What it is worth">
      <h3 class="figure text-[16px]">Worth in lap time (s)</h3>
      <dl>
        <div>
          <dt>1 {units.speedUnit} of minimum speed</dt>
          <dd class="figure">{perSpeed(own.per_min_speed_s) || 'not limited here'}</dd>
        </div>
        <div>
          <dt>
            1 {units.speedUnit} at the exit{own.stretch_m
              ? `, carried ${whole(units.length(own.stretch_m))} ${units.lengthUnit}`
              : ''}
          </dt>
          <dd class="figure">{perSpeed(own.per_exit_speed_s) || 'no straight after'}</dd>
        </div>
        <div>
          <dt>1 {units.lengthUnit} of early braking, at most</dt>
          <dd class="figure">{perLength(own.per_brake_metre_s) || 'no braking'}</dd>
        </div>
      </dl>
      <h3 class="figure text-[16px]">Linked corners</h3>
      {#each linked as one (one.corners.join())}
        <p class:here={one.corners.includes(number)}>{one.said}</p>
        {#each one.trades as trade (trade.first)}<p class="unit">{trade.said}</p>{/each}
      {:else}<p class="unit">None: there is full throttle between all corners.</p>{/each}
    </section>
    {#snippet ranking(
      title: string,
      unit: string,
      rows: typeof byTime,
      figure: (n: number) => string,
    )}
      <section aria-label={title}>
        <h3 class="figure text-[16px]">
          {title} <span class="unit font-labels font-normal text-[13px]">{unit}</span>
        </h3>
        <ol>
          {#each rows as row (row.corner)}
            <li class:here={row.corner === number}>
              <button
                class="flex-1 text-left cursor-pointer text-[15px]"
                onclick={() => view.select(result, row.corner)}
                ><span class="place">{row.name}</span></button
              >
              <span class="figure">{figure(row.corner)}</span>
            </li>
          {/each}
        </ol>
      </section>
    {/snippet}
    {@render ranking('Time spent', 's from lift to exit', byTime, (n) =>
      (worth.corners[n]?.slow_s ?? 0).toFixed(2),
    )}
    {@render ranking('Exit carried', `s for each ${units.speedUnit}`, byExit, (n) =>
      perSpeed(worth.corners[n]?.per_exit_speed_s ?? null),
    )}
  </div>
  <p class="sum">{worth.rankings}</p>
{:else}<p class="unit">Calculating what each corner is worth…</p>{/if}

<style>
  dl > div,
  li {
    display: flex;
    justify-content: space-between;
    gap: 10px;
    border-top: 1px solid var(--hair);
    font-size: 14px;
    line-height: 1.35;
  }
  dd,
  li .figure {
    font-size: 16px;
  }
  ol {
    columns: auto;
    counter-reset: rank;
  }
  li::before {
    counter-increment: rank;
    content: counter(rank);
    color: var(--ink-2);
    width: 20px;
  }
  li.here {
    background: var(--wash);
    font-weight: 700;
    box-shadow: inset 3px 0 0 var(--ink);
    padding-left: 6px;
  }
  p {
    font-size: 14px;
    line-height: 1.25;
    padding: 2px 0;
  }
  p.here {
    box-shadow: inset 3px 0 0 var(--ink);
    padding-left: 8px;
  }
  .sum {
    font-family: var(--figures);
    font-size: 17px;
    border-top: 1px solid var(--rule);
    margin-top: 4px;
  }
</style>
