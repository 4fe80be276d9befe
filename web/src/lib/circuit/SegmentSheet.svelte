<script lang="ts">
  import type { Circuit, CircuitEdit, Segment, SurveyReport, FigureRow } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import Disc from '../parts/Disc.svelte'
  import { plain } from '../parts/format'
  import CircuitFigure from './CircuitFigure.svelte'
  import { figureKey, type CircuitEdits } from './edits.svelte'

  /** Straights and corners in the order of the lap, each figure changed where it stands. */
  let {
    bench,
    view,
    circuit,
    survey,
    edits,
    uncertain,
  }: {
    bench: Workbench
    view: View
    circuit: Circuit
    survey: SurveyReport | null
    edits: CircuitEdits
    /** Whether the columns are the figures' uncertainties instead of the figures. */
    uncertain: boolean
  } = $props()

  const segments = $derived(circuit.segments ?? [])
  /** The sheet’s figures, or how sure one is of them; widths are typed on the road’s own sheet. */
  const columns = $derived(
    bench.figures.rows.filter(
      (row) =>
        (row.owner === 'straight' || row.owner === 'corner' || row.owner === 'segment') &&
        row.field !== 'width_m' &&
        row.field.includes('uncertainty') === uncertain,
    ),
  )
  const units = $derived(view.units)
  /** Number of the corner that each segment is, among the corners of the lap. */
  const cornerNumbers = $derived(
    segments.map((segment, index) =>
      segment.kind === 'corner'
        ? segments.slice(0, index).filter((one) => one.kind === 'corner').length
        : null,
    ),
  )
  /** The layouts that each segment is shared with, by name. */
  const sharers = $derived(
    segments.map((segment) =>
      (bench.open?.layouts ?? [])
        .filter((layout) => segment.stretch && layout.stretches.includes(segment.stretch))
        .map((layout) => layout.name)
        .join(', '),
    ),
  )
  let table: HTMLTableElement

  function valueOf(segment: Segment, column: FigureRow): number | null {
    const value = (segment as Record<string, unknown>)[column.field]
    return typeof value === 'number' ? value : null
  }
  const has = (segment: Segment, column: FigureRow): boolean =>
    column.owner === 'segment' || column.owner === segment.kind
  const unitOf = (column: FigureRow): string => units.unitFor(column)

  function choose(index: number): void {
    view.segment = index
    const corner = cornerNumbers[index]
    if (corner !== null && corner !== undefined && bench.result) view.select(bench.result, corner)
  }

  $effect(() => {
    table.rows[view.segment + 1]?.scrollIntoView({ block: 'nearest' })
  })

  async function rename(index: number, segment: Segment, name: string): Promise<void> {
    const wanted = name.trim()
    if (segment.kind !== 'corner' || !wanted || wanted === segment.name) return
    await edits.make({ op: 'rename', segment: index, name: wanted })
  }
</script>

<table class="border-spacing-0 w-full" bind:this={table} data-testid="segment-sheet">
  <thead>
    <tr>
      <th scope="col">Part</th>
      <th scope="col">Turn</th>
      {#each columns as column (column.name)}
        <th scope="col" title={column.changes}
          >{column.head} <span class="unit">{unitOf(column)}</span></th
        >
      {/each}
      <th scope="col">Ends at <span class="unit">{units.lengthUnit}</span></th>
    </tr>
  </thead>
  <tbody>
    {#each segments as segment, index (index)}
      {@const name =
        survey?.names[index] ?? (segment.kind === 'corner' ? segment.name : 'Straight')}
      <tr
        class:chosen={view.segment === index}
        class:straight={segment.kind === 'straight'}
        onfocusin={() => choose(index)}
        onclick={() => choose(index)}
      >
        <th scope="row">
          {#if segment.kind === 'corner'}
            <span class="number inline-block w-5 font-semibold"
              >{(cornerNumbers[index] ?? 0) + 1}</span
            >
            <input
              class="place name border-x-0 border-t-0 dotted-below w-24 text-[16px] bg-transparent"
              aria-label="Name of corner {(cornerNumbers[index] ?? 0) + 1}"
              maxlength="200"
              value={segment.name}
              onchange={(event) => void rename(index, segment, event.currentTarget.value)}
            />
          {:else}
            <span class="number inline-block w-5 font-semibold"></span><span class="unit"
              >straight<span class="sr-only">, {name}</span></span
            >
          {/if}
          {#if sharers[index]}
            <button
              class="px-1 py-0 text-cool cursor-pointer"
              title="Shared with {sharers[index]}: separate it for this layout"
              aria-label="{name} is shared with {sharers[index]}; separate it for this layout"
              onclick={() => void edits.make({ op: 'own', segment: index })}>≡</button
            >
          {/if}
        </th>
        <td>
          {#if segment.kind === 'corner'}
            <button
              class="gap-1.5 inline-flex items-center cursor-pointer"
              aria-label="{segment.name} turns {segment.direction}; reverse it"
              onclick={() =>
                void edits.make({
                  op: 'turn',
                  segment: index,
                  direction: segment.direction === 'left' ? 'right' : 'left',
                })}
              ><Disc direction={segment.direction} angleDeg={segment.angle_deg} />
              {segment.direction}</button
            >
          {/if}
        </td>
        {#each columns as column (column.name)}
          <td>
            {#if has(segment, column)}
              {@const key = figureKey(index, column.field)}
              {@const value = edits.shown(key, valueOf(segment, column))}
              {@const set = (next: number): CircuitEdit => ({
                op: 'set',
                segment: index,
                figure: column.field,
                value: next,
              })}
              {#if value === null}
                {@const usual =
                  column.field === 'end_radius_m' && segment.kind === 'corner'
                    ? segment.radius_m
                    : (column.unstated?.usual ?? 0)}
                <button
                  class="unit usual"
                  aria-label="{column.label} of {name}: {column.unstated?.says}; enter a value"
                  onclick={() => edits.change(key, usual, set(usual))}
                  >{column.unstated?.says}</button
                >
              {:else}
                <CircuitFigure
                  {view}
                  {edits}
                  name={key}
                  label="{column.label} of {name}{unitOf(column) ? ` (${unitOf(column)})` : ''}"
                  kept={value}
                  quantity={column.quantity}
                  {...units.fit(column)}
                  width="5ch"
                  edit={set}
                />
              {/if}
            {/if}
          </td>
        {/each}
        <td class="unit">
          {#if survey}
            {plain(
              units.length(survey.lengths_m.slice(0, index + 1).reduce((sum, one) => sum + one, 0)),
              0,
            )}
          {/if}
        </td>
      </tr>
    {/each}
  </tbody>
</table>

<style>
  th,
  td {
    text-align: right;
    padding: 0 4px;
    height: 27px;
    border-top: 1px solid var(--hair);
    font-weight: 500;
    white-space: nowrap;
  }
  thead th {
    position: sticky;
    top: 0;
    background: var(--paper);
    z-index: 1;
    border-top: 0;
    border-bottom: 1px solid var(--ink);
    line-height: 1.1;
    height: 34px;
  }
  th:first-child {
    text-align: left;
    padding-left: 4px;
  }
  th:nth-child(2),
  td:nth-child(2) {
    text-align: left;
  }
  .usual {
    font-style: italic;
    cursor: pointer;
    text-decoration: underline dotted;
  }
  tr.chosen > * {
    background: var(--wash);
  }
</style>
