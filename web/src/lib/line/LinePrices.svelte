<script lang="ts">
  import type { DrawnLine, LineKind, RoadDrawing } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { lapTime, timeDifference, whole } from '../parts/format'
  import { dashOf, LINES } from './names'

  /** What each line costs or gains against the one that is driven, corner by corner. */
  let {
    road,
    lines,
    driven,
    other,
    view,
    choose,
    take,
  }: {
    road: RoadDrawing
    lines: DrawnLine[]
    driven: DrawnLine
    other: DrawnLine | null
    view: View
    choose: (kind: LineKind) => void
    take: (kind: LineKind) => void
  } = $props()

  const rows = $derived(
    LINES.flatMap((one) => {
      const line = lines.find((found) => found.kind === one.kind)
      return line ? [{ ...one, line }] : []
    }),
  )
  const differences = $derived(
    rows.map((row) =>
      row.line.corners.map((corner, index) => corner.time_s - (driven.corners[index]?.time_s ?? 0)),
    ),
  )
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  class="border-t-2 border-t-ink overflow-x-auto"
  role="region"
  tabindex="0"
  aria-label="Prices of the line"
>
  <table class="ruled" data-testid="line-prices">
    <caption class="sr-only">Lines with their lap times and their cost at each corner</caption>
    <thead>
      <tr>
        <th scope="col">Line</th>
        <th scope="col" class="number">Lap</th>
        <th scope="col" class="number">Difference</th>
        <th scope="col" class="number">Length, {view.units.lengthUnit}</th>
        {#each road.corners as corner, index (index)}
          <th scope="col" class="number" class:chosen={view.corner === index}>
            <button
              class="cursor-pointer"
              onclick={() => (view.corner = view.corner === index ? null : index)}
              ><span class="figure">{index + 1}</span>
              <span class="place text-[14px]">{corner.name}</span></button
            >
          </th>
        {/each}
        <td></td>
      </tr>
    </thead>
    <tbody>
      {#each rows as row, number (row.kind)}
        {@const own = row.kind === driven.kind}
        <tr class:own class:beside={row.kind === other?.kind}>
          <th scope="row">
            <button
              class="gap-2 flex items-center cursor-pointer"
              disabled={own}
              onclick={() => choose(row.kind)}
              title="Show beside the driven line"
            >
              <svg width="30" height="8" aria-hidden="true"
                ><path
                  d="M0 4H30"
                  stroke={own ? 'var(--ink)' : 'var(--ink-2)'}
                  stroke-width={own ? 2.4 : 2}
                  stroke-dasharray={own ? '' : dashOf(row.kind) || '12 3'}
                /></svg
              >
              <span class="figure text-[16px] font-medium">{row.name}</span>
              {#if row.line.remark}<span class="unit">, {row.line.remark}</span>{/if}
            </button>
          </th>
          <td class="number figure text-[17px] font-semibold">{lapTime(row.line.lap_time_s)}</td>
          <td class="number"
            >{own ? 'driven' : timeDifference(row.line.lap_time_s - driven.lap_time_s)}</td
          >
          <td class="number">{whole(view.units.length(row.line.length_m))}</td>
          {#each row.line.corners as corner, index (index)}
            <td class="number" class:chosen={view.corner === index}>
              {#if own}{corner.time_s.toFixed(2)} s{:else}{timeDifference(
                  differences[number]?.[index] ?? 0,
                  2,
                )}{/if}
            </td>
          {/each}
          <td>
            {#if !own}<button class="link" onclick={() => take(row.kind)}>Use</button>{/if}
          </td>
        </tr>
      {/each}
      <tr>
        <th scope="row"><span class="unit">Driven radius, {view.units.lengthUnit}</span></th>
        <td></td><td></td><td></td>
        {#each driven.corners as corner, index (index)}
          <td class="number" class:chosen={view.corner === index}
            >{corner.radius_m === null ? 'straight' : whole(view.units.length(corner.radius_m))}</td
          >
        {/each}
        <td></td>
      </tr>
    </tbody>
  </table>
</div>

<style>
  th,
  td {
    padding: 2px 8px 2px 0;
    white-space: nowrap;
    height: 26px;
  }
  thead th {
    border: 0;
  }
  tbody th button:disabled {
    cursor: default;
  }
  .own th .figure {
    font-weight: 700;
  }
  .beside th .figure {
    text-decoration: underline;
  }
  .chosen {
    background: var(--wash);
  }
</style>
