<script lang="ts">
  import type { PlanBands, Uncertainty } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import Figure from '../parts/Figure.svelte'
  import { lapTime, whole } from '../parts/format'

  /** How sure one is of each figure, and what band of laps that gives. */
  let { bench, view, bands }: { bench: Workbench; view: View; bands: PlanBands | null } = $props()

  type Field = keyof Uncertainty & string
  const FIELDS: { field: Field; label: string; unit: string; step: number; decimals: number }[] = [
    { field: 'grip_pct', label: 'Grip, the whole lap', unit: '%', step: 1, decimals: 1 },
    { field: 'downforce_pct', label: 'Downforce, the whole lap', unit: '%', step: 1, decimals: 1 },
    { field: 'power_pct', label: 'Power, the whole lap', unit: '%', step: 1, decimals: 1 },
    { field: 'wind_ms', label: 'Wind, from any side', unit: 'm/s', step: 0.5, decimals: 1 },
    { field: 'radius_pct', label: 'Driven radius, each corner', unit: '%', step: 1, decimals: 1 },
    { field: 'laps', label: 'Laps in the batch', unit: '', step: 50, decimals: 0 },
    { field: 'seed', label: 'Seed of the draw', unit: '', step: 1, decimals: 0 },
  ]
  const wanted = $derived(bench.open?.plan.uncertainty)
  const units = $derived(view.units)
  const unitOf = (one: (typeof FIELDS)[number]): string =>
    one.field === 'wind_ms' ? units.unitOf('wind') : one.unit
  const shownOf = (one: (typeof FIELDS)[number]): number => {
    const value = wanted?.[one.field] ?? 0
    return one.field === 'wind_ms' ? units.show(value, 'wind') : value
  }
  let refused = $state<{ field: string; message: string } | null>(null)
  let waiting: { field: Field; value: number } | null = null
  async function settle(): Promise<void> {
    const one = waiting
    waiting = null
    if (!one || !wanted) return
    const value =
      one.field === 'laps' || one.field === 'seed'
        ? Math.round(one.value)
        : one.field === 'wind_ms'
          ? units.read(one.value, 'wind')
          : one.value
    const message = await bench.editPlan({ uncertainty: { ...wanted, [one.field]: value } })
    refused = message === null ? null : { field: one.field, message }
  }
</script>

<label class="shown">
  <input
    type="checkbox"
    class="checkbox checkbox-sm"
    checked={view.bands}
    onchange={(event) => view.showBands(event.currentTarget.checked)}
  />
  show the bands <span class="unit">(K)</span>
</label>
<table class="ruled">
  <tbody>
    {#each FIELDS as one (one.field)}
      <tr>
        <th scope="row">{one.label}</th>
        <td>
          {one.unit ? '±' : ''}
          <Figure
            label="{one.label} (plus or minus {unitOf(one)})"
            value={shownOf(one)}
            decimals={one.decimals}
            step={one.step}
            fine={one.decimals > 0 ? 0.1 : 1}
            width="4.6ch"
            size="18px"
            refusal={refused?.field === one.field ? refused.message : null}
            change={(value) => (waiting = { field: one.field, value })}
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
<p>
  The truth lies within each ± four times in five. So many laps are driven with all of it drawn at
  random; the band runs from the 10th to the 90th of a hundred.
</p>
{#if bands}
  <p>
    <b class="figure">{lapTime(bands.lap_time_s.low)}</b> to
    <b class="figure">{lapTime(bands.lap_time_s.high)}</b> in {whole(bands.laps)} laps.
  </p>
{/if}

<style>
  .shown {
    display: flex;
    gap: 8px;
    align-items: center;
    font-size: 15px;
    padding-bottom: 6px;
  }
  p {
    padding-top: 8px;
    font-size: 14px;
    max-width: 520px;
  }
</style>
