<script lang="ts">
  import type { Circuit, CircuitEdit, SurveyReport } from '../api/client'
  import { unitsOf } from '../parts/units'
  import type { View } from '../state/view.svelte'
  import CircuitFigure from './CircuitFigure.svelte'
  import type { CircuitEdits } from './edits.svelte'

  /** Boards and references in the order in which they are passed, and the sector lines. */
  let {
    view,
    circuit,
    survey,
    edits,
  }: {
    view: View
    circuit: Circuit
    survey: SurveyReport | null
    edits: CircuitEdits
  } = $props()

  type Kind = 'boards' | 'references'
  interface Mark {
    kind: Kind
    number: number
    label: string
    corner: string | null
    at_m: number
  }

  const units = $derived(view.units)
  const total = $derived(survey?.lengths_m.reduce((sum, one) => sum + one, 0) ?? 0)
  const marks = $derived(
    (['boards', 'references'] as const)
      .flatMap((kind) =>
        (circuit[kind] ?? []).map((mark, number): Mark => ({
          kind,
          number,
          label: mark.label,
          corner: mark.corner ?? null,
          at_m: mark.at_m,
        })),
      )
      .sort((a, b) => a.at_m - b.at_m),
  )
  const corners = $derived(
    (circuit.segments ?? []).flatMap((segment, index) =>
      segment.kind === 'corner'
        ? [
            {
              name: segment.name,
              begins: (survey?.lengths_m ?? []).slice(0, index).reduce((sum, one) => sum + one, 0),
              segment: index,
            },
          ]
        : [],
    ),
  )
  const chosen = $derived(
    corners.find((corner) => corner.segment === view.segment) ?? corners[0] ?? null,
  )
  const sectors = $derived(circuit.sectors_at_m ?? [])

  /** Metres before the corner that a mark belongs to; behind its beginning they are negative. */
  const before = (mark: Mark): number | null =>
    (mark.kind === 'boards' ? survey?.boards_before_m : survey?.references_before_m)?.[
      mark.number
    ] ?? null

  const onRoad = (at: number): number =>
    circuit.closed && total > 0 ? ((at % total) + total) % total : at

  function moved(mark: Mark, change: Partial<Mark>): CircuitEdit {
    const { kind, number, label, corner, at_m } = { ...mark, ...change }
    return { op: 'set_mark', kind, number, label, corner, at_m }
  }

  function put(kind: Kind): void {
    const begins = chosen?.begins ?? 0
    const label = kind === 'boards' ? '100' : 'new mark'
    const corner = chosen?.name ?? null
    const at_m = onRoad(begins - 100)
    void edits.make({ op: 'put_mark', kind, label, corner, at_m })
  }

  const sectorAt = (number: number, at_m: number | null): CircuitEdit => ({
    op: 'sector',
    number,
    at_m,
  })
</script>

<div class="pb-1.5 gap-x-3.5 gap-y-1 flex flex-wrap">
  <button class="link" onclick={() => put('boards')}>Add a board</button>
  <button class="link" onclick={() => put('references')}>Add a reference</button>
  {#if chosen}
    <button
      class="link"
      onclick={() => void edits.make({ op: 'usual_boards', segment: chosen.segment })}
      >150, 100 and 50 before {chosen.name}</button
    >
  {/if}
  <label class="gap-1.5 flex items-baseline"
    >Boards count in
    <select
      class="select select-xs w-20"
      value={circuit.board_unit ?? 'm'}
      onchange={(event) =>
        void edits.make({
          op: 'board_unit',
          unit: event.currentTarget.value as NonNullable<typeof circuit.board_unit>,
        })}
    >
      {#each unitsOf('length') as unit (unit.key)}<option value={unit.key}>{unit.symbol}</option
        >{/each}
    </select></label
  >
  <button class="link" onclick={() => void edits.make(sectorAt(sectors.length, total / 2))}
    >Add a sector line</button
  >
</div>
<table class="ruled" data-testid="roadside">
  <thead>
    <tr>
      <th scope="col">What</th>
      <th scope="col">Reads</th>
      <th scope="col">For</th>
      <th scope="col" class="number">Before it <span class="unit">{units.lengthUnit}</span></th>
      <th scope="col" class="number">Position <span class="unit">{units.lengthUnit}</span></th>
      <th><span class="sr-only">Remove</span></th>
    </tr>
  </thead>
  <tbody>
    {#each marks as mark (`${mark.kind}${mark.number}`)}
      {@const ahead = before(mark)}
      <tr>
        <td class="unit">{mark.kind === 'boards' ? 'board' : 'reference'}</td>
        <td
          ><input
            class="figure text border-x-0 border-t-0 dotted-below w-32.5 text-[16px] bg-transparent"
            aria-label="What this {mark.kind === 'boards' ? 'board' : 'reference'} reads"
            maxlength="40"
            value={mark.label}
            onchange={(event) =>
              event.currentTarget.value.trim() &&
              void edits.make(moved(mark, { label: event.currentTarget.value.trim() }))}
          /></td
        >
        <td>
          <select
            class="place text-[16px] bg-paper text-ink"
            aria-label="Corner of {mark.label}"
            value={mark.corner ?? ''}
            onchange={(event) =>
              void edits.make(moved(mark, { corner: event.currentTarget.value || null }))}
          >
            <option value="">no corner</option>
            {#each corners as corner (corner.segment)}<option>{corner.name}</option>{/each}
          </select>
        </td>
        <td class="number">
          {#if ahead !== null}
            <CircuitFigure
              {view}
              {edits}
              name="{mark.kind}:{mark.number}"
              label="{mark.label} before {mark.corner} ({units.lengthUnit})"
              kept={ahead}
              quantity="length"
              decimals={1}
              step={1}
              fine={0.1}
              edit={(metres) => moved(mark, { at_m: onRoad(mark.at_m + ahead - metres) })}
            />
          {/if}
        </td>
        <td class="number unit">{units.length(mark.at_m).toFixed(0)}</td>
        <td>
          <button
            class="link ember"
            aria-label="Remove {mark.label} of {mark.corner ?? 'no corner'}"
            onclick={() =>
              void edits.make({ op: 'remove_mark', kind: mark.kind, number: mark.number })}
            >Remove</button
          >
        </td>
      </tr>
    {:else}
      <tr><td colspan="6" class="unit">No boards or references yet.</td></tr>
    {/each}
    {#each sectors as at, index (index)}
      <tr>
        <td class="unit">sector line</td>
        <td class="figure">{index + 1} | {index + 2}</td>
        <td></td>
        <td></td>
        <td class="number">
          <CircuitFigure
            {view}
            {edits}
            name="sector:{index}"
            label="Sector line {index + 1} at ({units.lengthUnit})"
            kept={at}
            quantity="length"
            decimals={0}
            step={10}
            fine={1}
            edit={(metres) => sectorAt(index, metres)}
          />
        </td>
        <td>
          <button
            class="link ember"
            aria-label="Remove sector line {index + 1}"
            onclick={() => void edits.make(sectorAt(index, null))}>Remove</button
          >
        </td>
      </tr>
    {/each}
  </tbody>
</table>

<style>
  th,
  td {
    padding: 0 10px 0 4px;
    height: 28px;
    white-space: nowrap;
  }
  thead th {
    position: sticky;
    top: 0;
    background: var(--paper);
    z-index: 1;
    border-top: 0;
    border-bottom: 1px solid var(--ink);
  }
</style>
