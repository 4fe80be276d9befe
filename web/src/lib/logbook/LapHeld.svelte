<script lang="ts">
  import type { Result } from '../api/client'
  import { lapTime, plain, timeDifference } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import LapsPlot from './LapsPlot.svelte'
  import type { Logbook } from './logbook.svelte'

  /** A lap held against the prediction or a benchmark: where the seconds went, corner by corner. */
  let { book, view, result, width }: { book: Logbook; view: View; result: Result; width: number } =
    $props()

  const lap = $derived(book.lap)
  const units = $derived(view.units)
  /** Laps that others may be held against: the best of each run here, and other plans. */
  const benchmarks = $derived(book.here.filter((run) => run.best_lap_s !== null))
  const metres = (value: number | null | undefined): string =>
    value === null || value === undefined
      ? ''
      : `${plain(units.length(Math.abs(value)), 0)}${value < 0 ? ' into it' : ''}`
  const speed = (value: number | null): string =>
    value === null ? '' : plain(units.speed(value), 1)

  async function choose(value: string): Promise<void> {
    if (!value.startsWith('run:')) return book.holdAgainst(value)
    const run = Number(value.split(':')[1])
    const best = await book.bestOf(run)
    if (best !== null) await book.holdAgainst(`run:${run}:${best}`)
  }
  const chosen = $derived(
    book.against.startsWith('run:') ? book.against.split(':').slice(0, 2).join(':') : book.against,
  )
</script>

<p class="gap-x-4.5 gap-y-1 flex flex-wrap items-baseline">
  <label
    ><span class="unit">compared with</span>
    <select
      class="dotted-below bg-transparent text-[14px] max-w-85"
      aria-label="What the lap is compared with"
      value={chosen}
      onchange={(event) => void choose(event.currentTarget.value)}
    >
      <option value="plan">the prediction for this run</option>
      <optgroup label="best laps here">
        {#each benchmarks as run (run.id)}
          <option value="run:{run.id}">{lapTime(run.best_lap_s ?? 0)} {run.name}</option>
        {/each}
      </optgroup>
      {#if book.plans.length > 0}
        <optgroup label="other plans here">
          {#each book.plans as plan (plan.plan_id)}
            <option value="plan:{plan.plan_id}">{plan.name}</option>
          {/each}
        </optgroup>
      {/if}
    </select></label
  >
  {#if lap && book.open}
    <a class="link" href="/api/runs/{book.open.id}/laps/{lap.number}/channels.csv" download
      >This lap’s channels (CSV)</a
    >
  {/if}
</p>
{#if lap}
  <p class="px-0 py-1 font-figures text-[16px] leading-[1.3]" data-testid="lap-said">
    Lap {lap.number}, <span class="figure">{lapTime(lap.lap_time_s)}</span>: {lap.said?.join(' ')}
  </p>
  {#if (lap.predicted_ms?.length ?? 0) > 0}<LapsPlot
      {lap}
      corners={result.corners.map((corner, number) => ({
        number,
        at_m: corner.min_speed_at_m,
        lost_s: lap.corners?.[number]?.loss?.all_s ?? null,
      }))}
      length={result.length_m}
      {view}
      {width}
    />{/if}
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Corners of the lap">
    <table class="ruled" data-testid="corners-against">
      <caption class="sr-only">Every corner as driven, compared with {lap.against}</caption>
      <thead>
        <tr>
          <th scope="col">Corner</th>
          <th scope="col" class="number text-right">Lost s</th>
          <th scope="col">Braking point, {units.lengthUnit} before it</th>
          <th scope="col">Gear</th>
          <th scope="col">Minimum {units.speedUnit}</th>
          <th scope="col">Exit {units.speedUnit}</th>
          <th scope="col">Difference</th>
        </tr>
      </thead>
      <tbody>
        {#each lap.corners ?? [] as corner, number (number)}
          <tr class:now={view.corner === number}>
            <th scope="row"
              ><button class="cursor-pointer" onclick={() => view.select(result, number)}
                ><span class="figure">{number + 1}</span>
                <span class="place">{corner.name}</span></button
              ></th
            >
            <td class="number figure text-right"
              >{corner.loss ? timeDifference(corner.loss.all_s, 2) : ''}</td
            >
            <td
              ><span class="figure">{metres(corner.brake_start_to_corner_m) || corner.action}</span>
              <span class="unit"
                >{#if metres(corner.plan_brake_start_to_corner_m) || corner.plan_action}for {metres(
                    corner.plan_brake_start_to_corner_m,
                  ) || corner.plan_action}{/if}</span
              ></td
            >
            <td
              ><span class="figure">{corner.gear ?? ''}</span>
              <span class="unit">{corner.plan_gear ? `for ${corner.plan_gear}` : ''}</span></td
            >
            <td
              ><span class="figure">{speed(corner.min_speed_ms)}</span>
              <span class="unit"
                >{corner.plan_min_speed_ms === null
                  ? ''
                  : `for ${speed(corner.plan_min_speed_ms)}`}</span
              ></td
            >
            <td
              ><span class="figure">{speed(corner.exit_speed_ms)}</span>
              <span class="unit"
                >{corner.plan_exit_speed_ms === null
                  ? ''
                  : `for ${speed(corner.plan_exit_speed_ms)}`}</span
              ></td
            >
            <td>{corner.said}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  <p class="unit">
    From the log: {Object.entries(lap.channels ?? {})
      .map(([what, channel]) => `${what} from ${channel}`)
      .join(', ')}.
  </p>
{/if}

<style>
  td,
  th {
    white-space: nowrap;
  }
  td:last-child {
    white-space: normal;
    min-width: 240px;
  }
  tr.now {
    background: var(--wash);
  }
</style>
