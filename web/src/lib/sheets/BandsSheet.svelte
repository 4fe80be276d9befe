<script lang="ts">
  import type { FigureRow, PlanBands } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import Figure from '../parts/Figure.svelte'
  import { lapTime, whole } from '../parts/format'

  /** How sure one is of each figure, and what band of laps that gives. */
  let { bench, view, bands }: { bench: Workbench; view: View; bands: PlanBands | null } = $props()

  const rows = $derived(bench.figures.of('uncertainty'))
  const wanted = $derived(bench.open?.plan.uncertainty)
  const units = $derived(view.units)
  const unitOf = (row: FigureRow): string => units.unitOf(row.quantity) || row.unit
  const valueOf = (field: string): number =>
    Number((wanted as unknown as Record<string, unknown> | undefined)?.[field] ?? 0)
  let refused = $state<{ field: string; message: string } | null>(null)
  let waiting: { row: FigureRow; shown: number } | null = null
  async function settle(): Promise<void> {
    const one = waiting
    waiting = null
    if (!one || !wanted) return
    const { field, quantity, decimals } = one.row
    const value = decimals === 0 ? Math.round(one.shown) : units.read(one.shown, quantity)
    const message = await bench.editPlan({ uncertainty: { ...wanted, [field]: value } })
    refused = message === null ? null : { field, message }
  }
</script>

<label class="pb-1.5 gap-2 flex items-center text-[15px]">
  <input
    type="checkbox"
    class="checkbox checkbox-sm"
    checked={view.bands}
    onchange={(event) => view.showBands(event.currentTarget.checked)}
  />
  Show the bands <span class="unit">(K)</span>
</label>
<table class="ruled">
  <tbody>
    {#each rows as one (one.name)}
      <tr>
        <th scope="row">{one.label}</th>
        <td>
          {unitOf(one) ? '±' : ''}
          <Figure
            label="{one.label} (plus or minus {unitOf(one)})"
            value={units.show(valueOf(one.field), one.quantity)}
            decimals={one.decimals}
            step={one.step}
            fine={one.fine}
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
<p class="pt-2 text-[14px] max-w-130">
  Each ± is an 80 % band. The laps are calculated with all figures drawn at random; the lap’s band
  runs from the 10th to the 90th percentile.
</p>
{#if bands}
  <p class="pt-2 text-[14px] max-w-130">
    <b class="figure">{lapTime(bands.lap_time_s.low)}</b> to
    <b class="figure">{lapTime(bands.lap_time_s.high)}</b> in {whole(bands.laps)} laps.
  </p>
{/if}
