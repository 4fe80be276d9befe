<script lang="ts">
  import type { Circuit, CircuitEdit, FigureRow } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import CircuitFigure from './CircuitFigure.svelte'
  import type { CircuitEdits } from './edits.svelte'
  import LanesSheet from './LanesSheet.svelte'

  /** What is true of the whole circuit. */
  let {
    bench,
    view,
    circuit,
    edits,
  }: { bench: Workbench; view: View; circuit: Circuit; edits: CircuitEdits } = $props()

  type Fact = Extract<CircuitEdit, { op: 'fact' }>['fact']
  const rows = $derived(
    bench.figures.of('circuit').filter((row) => !circuit.closed || row.field !== 'start_speed_ms'),
  )
  const valueOf = (field: string): number =>
    Number((circuit as unknown as Record<string, unknown>)[field] ?? 0)
  const stated = (field: string): boolean =>
    (circuit as unknown as Record<string, unknown>)[field] != null
  const fact = (row: FigureRow, value: number | null): CircuitEdit => ({
    op: 'fact',
    fact: row.field as Fact,
    value,
  })
  const units = $derived(view.units)
  const unitOf = (row: FigureRow): string => units.unitFor(row)
</script>

<table class="ruled">
  <tbody>
    <tr>
      <th scope="row">Radius type</th>
      <td>
        <select
          class="bg-transparent"
          aria-label="Radius type"
          value={circuit.segments_describe ?? 'driven'}
          onchange={(event) =>
            void edits.make({
              op: 'describe',
              segments_describe: event.currentTarget.value as 'driven' | 'road',
            })}
        >
          <option value="driven">the driven path</option>
          <option value="road">the middle of the road</option>
        </select>
      </td>
      <td class="unit"
        >With the middle of the road, the driven line is calculated between the edges, in the Line
        view</td
      >
    </tr>
    {#if circuit.closed}
      <tr>
        <th scope="row">Move the start line by</th>
        <td>
          <CircuitFigure
            {view}
            {edits}
            name="start"
            label="Move the start line on by ({units.unitOf('length')})"
            kept={0}
            quantity="length"
            decimals={0}
            step={10}
            fine={1}
            edit={(value) => ({ op: 'start', by_m: value })}
          />
          <span class="unit">{units.unitOf('length')}</span>
        </td>
        <td class="unit">On a straight; negative moves it back. Everything else stays in place</td>
      </tr>
    {/if}
    {#each rows as row (row.name)}
      <tr>
        <th scope="row">{row.label}</th>
        <td>
          {#if row.unstated && !stated(row.field)}
            <span class="place">{row.unstated.says}</span>
            <button
              class="link"
              aria-label="{row.label}: {row.unstated.says}; enter a value"
              onclick={() => void edits.make(fact(row, row.unstated?.usual ?? 0))}>Enter</button
            >
          {:else}
            <CircuitFigure
              {view}
              {edits}
              name="fact:{row.field}"
              label="{row.label} ({unitOf(row)})"
              kept={valueOf(row.field)}
              quantity={row.quantity}
              {...units.fit(row)}
              edit={(value) => fact(row, value)}
            />
            <span class="unit">{unitOf(row)}</span>
            {#if row.unstated}
              <button
                class="link"
                aria-label="{row.label}: remove"
                onclick={() => void edits.make(fact(row, null))}>Remove</button
              >
            {/if}
          {/if}
        </td>
        <td class="unit">{row.changes}</td>
      </tr>
    {/each}
  </tbody>
</table>
{#if circuit.closed}<LanesSheet {view} {circuit} {edits} />{/if}

<style>
  th,
  td {
    padding: 3px 12px 3px 4px;
  }
</style>
