<script lang="ts">
  import type { CircuitEdit } from '../api/client'
  import type { View } from '../state/view.svelte'
  import Figure from '../parts/Figure.svelte'
  import type { Quantity } from '../parts/units'
  import type { CircuitEdits } from './edits.svelte'

  /** One figure of the circuit, wired to its edits. */
  let {
    view,
    edits,
    name,
    label,
    kept,
    quantity = 'none',
    decimals,
    step,
    fine,
    width = '6ch',
    edit,
  }: {
    view: View
    edits: CircuitEdits
    /** Which figure this is, for its refusal and for what waits to be kept. */
    name: string
    label: string
    kept: number
    quantity?: Quantity
    decimals: number
    step: number
    fine: number
    width?: string
    edit: (value: number) => CircuitEdit
  } = $props()

  const units = $derived(view.units)
</script>

<Figure
  {label}
  value={units.show(edits.shown(name, kept) ?? kept, quantity)}
  {decimals}
  {step}
  {fine}
  {width}
  size="16px"
  refusal={edits.refusal?.key === name ? edits.refusal.message : null}
  change={(shown) => {
    const value = units.read(shown, quantity)
    edits.change(name, value, edit(value))
  }}
  done={() => void edits.settle()}
  refuse={(message) => edits.refuse(name, message)}
  forget={() => edits.forget(name)}
/>
