<script lang="ts">
  import type { Result, SeveralLaps } from '../api/client'
  import { lapTime, plain, timeDifference } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Logbook } from './logbook.svelte'

  /** Laps of one or more runs together: what is usual, how evenly, and the lap that was possible. */
  let { book, view, result }: { book: Logbook; view: View; result: Result } = $props()

  const found = $derived<SeveralLaps | null>(book.several)
  const units = $derived(view.units)
  const worst = $derived(
    Math.max(
      0.05,
      ...(found?.corners ?? []).map(
        (corner) => Math.abs(corner.lost_s.median) + corner.lost_s.spread,
      ),
    ),
  )
  const names = $derived(
    book.here.filter((run) => book.taken.includes(run.id)).map((run) => run.name),
  )
  const speed = (value: number, decimals = 1): string => plain(units.speed(value), decimals)
  const length = (value: number): string => plain(units.length(Math.abs(value)), 0)
  const before = (value: number): string => (value < 0 ? ' into it' : '')
  const x = (seconds: number): number => 80 + (seconds / worst) * 76
</script>

<p class="unit">
  {names.length === 1 ? 'Of ' : 'Selected: '}{names.join('; ') || 'no run'}. Tick runs in the season
  list to add them.
</p>
{#if found}
  <div class="px-0 py-1 font-figures text-[16px] leading-[1.3]" data-testid="together-said">
    {#each found.said ?? [] as one (one)}<p>{one}</p>{/each}
  </div>
  {#if (found.sectors_s?.length ?? 0) > 0}
    <p class="px-0 py-1 gap-x-6 gap-y-1 flex flex-wrap">
      {#each found.sectors_s ?? [] as sector, number (number)}
        <span
          ><span class="unit">sector {number + 1}</span>
          <span class="figure text-[17px]">{plain(sector.best, 3)}</span>
          <span class="unit">median {plain(sector.median, 3)}</span></span
        >
      {/each}
      {#if found.best_sectors_s}
        <span
          ><span class="unit">Theoretical best by sector</span>
          <span class="figure text-[17px]">{lapTime(found.best_sectors_s)}</span></span
        >
      {/if}
    </p>
  {/if}
  {#if (found.corners?.length ?? 0) > 0}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Corners over all laps">
      <table class="ruled" data-testid="corners-together">
        <caption class="sr-only">Every corner over all of these laps</caption>
        <thead>
          <tr>
            <th scope="col">Corner</th>
            <th scope="col" colspan="2">Typical loss s, spread</th>
            <th scope="col">Best</th>
            <th scope="col">Minimum {units.speedUnit}</th>
            <th scope="col">Braking point {units.lengthUnit}</th>
            <th scope="col">Gear</th>
            <th scope="col">Pattern</th>
          </tr>
        </thead>
        <tbody>
          {#each found.corners ?? [] as corner, number (number)}
            <tr class:now={view.corner === number}>
              <th scope="row"
                ><button class="cursor-pointer" onclick={() => view.select(result, number)}
                  ><span class="figure">{number + 1}</span>
                  <span class="place">{corner.name}</span></button
                ></th
              >
              <td class="figure number text-right">{timeDifference(corner.lost_s.median, 2)}</td>
              <td>
                <svg width="160" height="14" aria-hidden="true">
                  <path d="M80 0V14" stroke="var(--rule)" />
                  <path
                    d="M{x(corner.lost_s.median - corner.lost_s.spread)} 7H{x(
                      corner.lost_s.median + corner.lost_s.spread,
                    )}"
                    stroke="var(--ink-2)"
                    stroke-width="5"
                  />
                  <path
                    d="M{x(corner.lost_s.median)} 1V13M{x(corner.lost_s.best)} 3L{x(
                      corner.lost_s.best,
                    ) - 4} 11H{x(corner.lost_s.best) + 4}Z"
                    stroke="var(--ink)"
                    stroke-width="1.6"
                    fill="var(--ink)"
                  />
                </svg>
                <span class="sr-only">± {plain(corner.lost_s.spread, 2)} s</span>
              </td>
              <td
                ><span class="figure">{timeDifference(corner.lost_s.best, 2)}</span>
                <span class="unit">{corner.best_lap.split(', ').at(-1)}</span></td
              >
              <td
                ><span class="figure"
                  >{speed(corner.min_speed_ms.median)} ± {speed(corner.min_speed_ms.spread)}</span
                >
                <span class="unit">for {speed(corner.plan_min_speed_ms)}</span></td
              >
              <td
                >{#if corner.brake_start_to_corner_m}<span class="figure"
                    >{length(corner.brake_start_to_corner_m.median)} ± {length(
                      corner.brake_start_to_corner_m.spread,
                    )}{before(corner.brake_start_to_corner_m.median)}</span
                  >{/if}
                {#if corner.plan_brake_start_to_corner_m !== null}<span class="unit"
                    >for {length(corner.plan_brake_start_to_corner_m)}</span
                  >{/if}</td
              >
              <td
                ><span class="figure">{corner.gears}</span>
                <span class="unit">for {corner.plan_gear}</span></td
              >
              <td>{corner.said}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
    <p class="unit">
      Stroke: typical loss against the prediction; bar: spread; triangle: best lap. One corner’s
      exit is the next one’s entry, so the theoretical best is not quite reachable.
    </p>
  {/if}
{:else if book.taken.length === 0}
  <p class="px-0 py-7.5 text-[15px]">Choose a run in the season list.</p>
{/if}

<style>
  td,
  th {
    white-space: nowrap;
  }
  td:last-child {
    white-space: normal;
    min-width: 200px;
  }
  tr.now {
    background: var(--wash);
  }
</style>
