<script lang="ts">
  import type { Result } from '../api/client'
  import { plain, timeDifference } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Logbook } from './logbook.svelte'

  /** A corner's past: minimum speed and braking point of every lap ever logged there. */
  let {
    bench,
    book,
    view,
    result,
    width,
  }: { bench: Workbench; book: Logbook; view: View; result: Result; width: number } = $props()

  const past = $derived(book.past)
  const units = $derived(view.units)
  const corner = $derived(view.corner ?? 0)
  const dots = $derived(
    (past?.runs ?? []).flatMap((run, index) =>
      (run.laps ?? []).map((lap) => ({ ...lap, index, run: run.name })),
    ),
  )
  const HEIGHT = 150
  const LEFT = 48
  const step = $derived((width - LEFT - 12) / Math.max(dots.length, 1))
  const px = (n: number): number => LEFT + step * (n + 0.5)
  type Dot = (typeof dots)[number]
  const PLOTS = [
    {
      label: 'Minimum',
      of: (dot: Dot): number | null =>
        dot.min_speed_ms === null ? null : units.speed(dot.min_speed_ms),
      plan: (): number | null => (past ? units.speed(past.plan_min_speed_ms) : null),
      unit: (): string => units.speedUnit,
    },
    {
      label: 'Braking point',
      of: (dot: Dot): number | null =>
        dot.brake_start_to_corner_m === null ? null : units.length(dot.brake_start_to_corner_m),
      plan: (): number | null =>
        past?.plan_brake_start_to_corner_m == null
          ? null
          : units.length(past.plan_brake_start_to_corner_m),
      unit: (): string => `${units.lengthUnit} before it`,
    },
  ]
  function scale(plot: (typeof PLOTS)[number]): ((value: number) => number) & { ticks: number[] } {
    const values = [...dots.map(plot.of), plot.plan()].filter((one) => one !== null)
    const low = Math.min(...values)
    const high = Math.max(...values)
    const room = Math.max(high - low, 1) * 0.15
    const to = (value: number): number =>
      HEIGHT - 18 - ((value - low + room) / (high - low + 2 * room)) * (HEIGHT - 36)
    return Object.assign(to, { ticks: [low, (low + high) / 2, high] })
  }
  $effect(() => {
    void bench.open?.id
    void book.lookBack(corner)
  })
</script>

<p class="gap-4.5 flex items-baseline">
  <label
    ><span class="unit">corner</span>
    <select
      class="dotted-below bg-transparent font-figures text-[17px] font-semibold"
      aria-label="Which corner"
      value={corner}
      onchange={(event) => view.select(result, Number(event.currentTarget.value))}
    >
      {#each result.corners as one, number (number)}
        <option value={number}>{number + 1} {one.name}</option>
      {/each}
    </select></label
  >
  {#if bench.open}
    <a class="link" href="/api/plans/{bench.open.id}/corners/{corner}/history.csv" download>CSV</a>
  {/if}
</p>
{#if past && dots.length > 0}
  {#each PLOTS as plot (plot.label)}
    {@const y = scale(plot)}
    {@const plan = plot.plan()}
    <svg
      {width}
      height={HEIGHT}
      role="img"
      aria-label="{plot.label} of every lap at {past.corner}, run after run"
      data-testid="past-plot"
    >
      <text x={LEFT} y="12" class="tick">{plot.label}, {plot.unit()}; the line is the plan’s</text>
      {#each y.ticks as tick (tick)}
        <path d="M{LEFT} {y(tick)}H{width - 12}" stroke="var(--hair)" />
        <text x={LEFT - 6} y={y(tick) + 4} text-anchor="end" class="tick">{plain(tick, 0)}</text>
      {/each}
      {#if plan !== null}
        <path d="M{LEFT} {y(plan)}H{width - 12}" stroke="var(--coast)" stroke-width="1.6" />
      {/if}
      {#each dots as dot, n (n)}
        {@const value = plot.of(dot)}
        {#if n > 0 && dots[n - 1]?.index !== dot.index}
          <path d="M{px(n) - step / 2} 18V{HEIGHT - 8}" stroke="var(--rule)" />
        {/if}
        {#if value !== null}
          {#if dot.typed}
            <path
              d="M{px(n) - 4} {y(value) - 4}l8 8m0 -8l-8 8"
              stroke="var(--ink)"
              stroke-width="1.8"
            />
          {:else}
            <circle
              cx={px(n)}
              cy={y(value)}
              r="3.4"
              fill={dot.run_id === view.run ? 'var(--ink)' : 'var(--paper)'}
              stroke="var(--ink)"
              stroke-width="1.5"
            />
          {/if}
        {/if}
      {/each}
    </svg>
  {/each}
  <p class="unit">Filled: the open run. Crosses: typed laps. Vertical rules separate runs.</p>
  <table class="ruled" data-testid="past-table">
    <thead>
      <tr>
        <th scope="col">Run</th>
        <th scope="col">Laps</th>
        <th scope="col">Minimum {units.speedUnit}, range</th>
        <th scope="col">Smallest loss s</th>
        <th scope="col">Difference</th>
      </tr>
    </thead>
    <tbody>
      {#each past.runs ?? [] as run (run.run_id)}
        {@const speeds = (run.laps ?? []).flatMap((lap) =>
          lap.min_speed_ms === null ? [] : [units.speed(lap.min_speed_ms)],
        )}
        {@const lost = (run.laps ?? []).flatMap((lap) => (lap.lost_s === null ? [] : [lap.lost_s]))}
        <tr>
          <th scope="row"
            ><button class="cursor-pointer text-left" onclick={() => void book.look(run.run_id)}
              ><span class="figure">{run.name}</span>
              <span class="unit">{run.driven_at.slice(0, 10)}, {run.car}, {run.conditions}</span
              ></button
            ></th
          >
          <td class="figure">{run.laps?.length}</td>
          <td class="figure"
            >{speeds.length > 0
              ? `${plain(Math.min(...speeds), 1)} to ${plain(Math.max(...speeds), 1)}`
              : ''}</td
          >
          <td class="figure">{lost.length > 0 ? timeDifference(Math.min(...lost), 2) : ''}</td>
          <td
            >{(run.laps ?? [])
              .map((lap) => lap.said)
              .filter((said) => said)
              .join('; ')}</td
          >
        </tr>
      {/each}
    </tbody>
  </table>
{:else if past}
  <p class="px-0 py-6 text-[15px]">No lap through {past.corner} yet.</p>
{/if}
