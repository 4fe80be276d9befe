<script lang="ts">
  import type { FigureRow } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import Figure from '../parts/Figure.svelte'

  /** The figures of a part of the plan, one under another, each written as one step. */
  let {
    bench,
    view,
    part,
    sign = '',
    spoken = '',
  }: {
    bench: Workbench
    view: View
    part: 'uncertainty' | 'first_laps'
    /** The sign before each figure, and the words a screen reader says for it. */
    sign?: string
    spoken?: string
  } = $props()

  const rows = $derived(bench.figures.of(part))
  const wanted = $derived(bench.open?.plan[part])
  const units = $derived(view.units)
  const unitOf = (row: FigureRow): string => units.unitFor(row)
  const valueOf = (field: string): number =>
    Number((wanted as unknown as Record<string, unknown> | undefined)?.[field] ?? 0)
  let refused = $state<{ field: string; message: string } | null>(null)
  let waiting: { row: FigureRow; shown: number } | null = null
  async function settle(): Promise<void> {
    const one = waiting
    waiting = null
    if (!one || !wanted) return
    const { field, quantity, decimals } = one.row
    const shown = decimals === 0 && quantity === 'none' ? Math.round(one.shown) : one.shown
    const value = units.read(shown, quantity)
    const message = await bench.editPlan({ [part]: { ...wanted, [field]: value } })
    refused = message === null ? null : { field, message }
  }
</script>

<table class="ruled">
  <tbody>
    {#each rows as one (one.name)}
      <tr>
        <th scope="row" title={one.changes}>{one.label}</th>
        <td>
          {unitOf(one) ? sign : ''}
          <Figure
            label="{one.label} ({spoken}{unitOf(one)})"
            value={units.show(valueOf(one.field), one.quantity)}
            {...units.fit(one)}
            width="4.6ch"
            size="18px"
            refusal={refused?.field === one.field ? refused.message : null}
            change={(value) => (waiting = { row: one, shown: value })}
            done={() => void settle()}
            refuse={(message) => (refused = { field: one.field, message })}
            forget={() => (refused = null)}
          />
          <span class="unit">{unitOf(one)}</span>
        </td>
      </tr>
    {/each}
  </tbody>
</table>
