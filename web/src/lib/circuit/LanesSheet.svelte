<script lang="ts">
  import type { Circuit, CircuitEdit } from '../api/client'
  import type { View } from '../state/view.svelte'
  import CircuitFigure from './CircuitFigure.svelte'
  import type { CircuitEdits } from './edits.svelte'

  /** Lanes of a banked circuit: how far outside of the stated radius, with which bank and grip. */
  let { view, circuit, edits }: { view: View; circuit: Circuit; edits: CircuitEdits } = $props()

  type Lane = NonNullable<Circuit['lanes']>[number]
  const lanes = $derived(circuit.lanes ?? [])
  const units = $derived(view.units)
  const COLUMNS = [
    { field: 'outside_m', head: 'Offset from the radius', decimals: 1, step: 0.5, fine: 0.1 },
    { field: 'bank_change_deg', head: 'Extra bank', decimals: 1, step: 0.5, fine: 0.1 },
    { field: 'grip_factor', head: 'Grip', decimals: 2, step: 0.01, fine: 0.005 },
  ] as const

  const changed = (number: number, change: Partial<Lane>): CircuitEdit => ({
    op: 'set_lane',
    number,
    lane: { ...(lanes[number] as Lane), ...change },
  })
  function add(): void {
    const lane = { name: `Lane ${String(lanes.length + 1)}`, outside_m: 3 * lanes.length }
    void edits.make({ op: 'put_lane', lane: { bank_change_deg: 0, grip_factor: 1, ...lane } })
  }
  const unitOf = (field: string): string =>
    field === 'outside_m' ? units.lengthUnit : field === 'bank_change_deg' ? '°' : '×'
</script>

<h2 class="figure pt-3 text-[17px]">Lanes</h2>
{#if lanes.length === 0}
  <p class="unit max-w-160">
    None: every corner uses its stated radius. On a banked circuit each lane has its own radius,
    bank and grip; the Race view compares them.
  </p>
{:else}
  <table class="ruled" data-testid="lanes">
    <thead>
      <tr>
        <th scope="col">Lane</th>
        {#each COLUMNS as column (column.field)}
          <th scope="col" class="number text-right"
            >{column.head} <span class="unit max-w-160">{unitOf(column.field)}</span></th
          >
        {/each}
        <th><span class="sr-only">Remove</span></th>
      </tr>
    </thead>
    <tbody>
      {#each lanes as lane, number (number)}
        <tr>
          <td
            ><input
              class="figure dotted-below w-32.5 text-[16px] bg-transparent"
              aria-label="Name of lane {number + 1}"
              maxlength="40"
              value={lane.name}
              onchange={(event) =>
                event.currentTarget.value.trim() &&
                void edits.make(changed(number, { name: event.currentTarget.value.trim() }))}
            /></td
          >
          {#each COLUMNS as column (column.field)}
            <td class="number text-right"
              ><CircuitFigure
                {view}
                {edits}
                name="lane:{number}:{column.field}"
                label="{lane.name}: {column.head.toLowerCase()} ({unitOf(column.field)})"
                kept={lane[column.field] ?? 0}
                quantity={column.field === 'outside_m' ? 'length' : 'none'}
                decimals={column.decimals}
                step={column.step}
                fine={column.fine}
                edit={(value) => changed(number, { [column.field]: value })}
              /></td
            >
          {/each}
          <td
            ><button
              class="link ember"
              aria-label="Remove {lane.name}"
              onclick={() => void edits.make({ op: 'remove_lane', number })}>Remove</button
            ></td
          >
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
<button class="link" onclick={add}>Add a lane</button>
