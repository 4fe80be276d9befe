<script lang="ts">
  import type { Circuit, CircuitEdit } from '../api/client'
  import type { View } from '../state/view.svelte'
  import CircuitFigure from './CircuitFigure.svelte'
  import type { Quantity } from '../parts/units'
  import type { CircuitEdits } from './edits.svelte'

  /** What is true of the whole circuit. */
  let { view, circuit, edits }: { view: View; circuit: Circuit; edits: CircuitEdits } = $props()

  type Fact = Extract<CircuitEdit, { op: 'fact' }>['fact']
  interface Row {
    fact: Fact
    label: string
    unit: string
    quantity: Quantity
    step: number
    hint: string
  }
  const ROWS: Row[] = [
    {
      fact: 'north_deg',
      label: 'Bearing at the start',
      unit: '°',
      quantity: 'none',
      step: 1,
      hint: 'Compass bearing of the road at the line; the wind and the map go by it',
    },
    {
      fact: 'altitude_m',
      label: 'Altitude',
      unit: '',
      quantity: 'length',
      step: 10,
      hint: 'Sets the air where the conditions state no pressure',
    },
    {
      fact: 'grade_blend_m',
      label: 'Blend between grades',
      unit: '',
      quantity: 'length',
      step: 5,
      hint: 'Length over which the slope changes where two grades meet',
    },
    {
      fact: 'width_m',
      label: 'Road width',
      unit: '',
      quantity: 'length',
      step: 0.5,
      hint: 'From edge to edge, where a part has no width of its own; the line is computed in it',
    },
    {
      fact: 'pit_loss_s',
      label: 'Pit stop costs',
      unit: 's',
      quantity: 'none',
      step: 1,
      hint: 'Entry to exit against staying out, without the time standing',
    },
  ]
  const START: Row = {
    fact: 'start_speed_ms',
    label: 'Start speed',
    unit: '',
    quantity: 'speed',
    step: 5,
    hint: '0 is a standing start',
  }
  const rows = $derived(circuit.closed ? ROWS : [...ROWS, START])
  const units = $derived(view.units)
  const unitOf = (row: Row): string => units.unitOf(row.quantity) || row.unit
</script>

<table>
  <tbody>
    <tr>
      <th scope="row">Radii mean</th>
      <td>
        <select
          aria-label="What the radii mean"
          value={circuit.segments_describe ?? 'driven'}
          onchange={(event) =>
            void edits.make({
              op: 'describe',
              segments_describe: event.currentTarget.value as 'driven' | 'road',
            })}
        >
          <option value="driven">the path as driven</option>
          <option value="road">the middle of the road</option>
        </select>
      </td>
      <td class="unit">On a road the driven line is computed between the edges, in the Line view</td
      >
    </tr>
    {#if circuit.closed}
      <tr>
        <th scope="row">Start line, move on by</th>
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
        <td class="unit">On a straight; back where negative. Everything else stays where it is</td>
      </tr>
    {/if}
    {#each rows as row (row.fact)}
      <tr>
        <th scope="row">{row.label}</th>
        <td>
          <CircuitFigure
            {view}
            {edits}
            name="fact:{row.fact}"
            label="{row.label} ({unitOf(row)})"
            kept={circuit[row.fact] ?? 0}
            quantity={row.quantity}
            decimals={1}
            step={row.step}
            fine={row.step / 10}
            edit={(value) => ({ op: 'fact', fact: row.fact, value })}
          />
          <span class="unit">{unitOf(row)}</span>
        </td>
        <td class="unit">{row.hint}</td>
      </tr>
    {/each}
  </tbody>
</table>

<style>
  table {
    width: 100%;
    border-spacing: 0;
  }
  select {
    background: transparent;
    border-bottom: 1px dotted var(--ink-2);
  }
  th,
  td {
    text-align: left;
    padding: 3px 12px 3px 4px;
    border-top: 1px solid var(--hair);
    font-weight: 500;
    font-size: 14px;
  }
</style>
