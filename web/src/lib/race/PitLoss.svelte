<script lang="ts">
  import type { CircuitEdit, Race } from '../api/client'
  import OptionalFigure from '../car/OptionalFigure.svelte'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'

  /** What the pit lane costs without standing, from the circuit, and where its figures are from. */
  let { bench, view, race }: { bench: Workbench; view: View; race: Race } = $props()

  const FIELDS = ['pit_loss_s', 'pit_lane_m', 'pit_limit_ms'] as const
  const units = $derived(view.units)
  const circuit = $derived(bench.open?.plan.circuit)
  const rows = $derived(
    FIELDS.flatMap((field) => {
      const row = bench.figures.of('circuit').find((one) => one.field === field)
      return row ? [{ ...row, field }] : []
    }),
  )
  const source = $derived(race.assumptions.find((one) => one.label === 'Pit-lane time')?.source)
  const set = (
    fact: Extract<CircuitEdit, { op: 'fact' }>['fact'],
    value: number | null,
  ): Promise<string | null> => bench.editCircuit([{ op: 'fact', fact, value }])
</script>

<h2 class="figure pt-1.5 text-[17px]">Pit lane</h2>
<p class="text-[14px]" data-testid="pit-loss">
  A stop loses <b class="figure">{race.pit_loss_s.toFixed(1)} s</b> in the lane, and the time
  stationary. {#if source}<span class="unit">Source: {source}.</span>{/if}
</p>
<dl class="text-[14px]">
  {#each rows as row (row.name)}
    {@const value = circuit?.[row.field] ?? null}
    <div class="gap-2.5 border-t border-t-hair flex justify-between min-h-6.25 items-baseline">
      <dt>{row.label}</dt>
      <dd class="text-right whitespace-nowrap">
        <OptionalFigure {row} {value} {units} write={(next) => set(row.field, next)} />
      </dd>
    </div>
  {/each}
</dl>
