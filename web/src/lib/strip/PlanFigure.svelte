<script lang="ts">
  import { changeKey, type Workbench } from '../state/workbench.svelte'
  import type { View } from '../state/view.svelte'
  import Figure from '../parts/Figure.svelte'
  import type { FigureDefinition } from './figures'

  /** One of the plan’s figures, wired to the workbench; says so where there is no figure to change. */
  let {
    bench,
    view,
    definition,
    size = '17px',
  }: { bench: Workbench; view: View; definition: FigureDefinition; size?: string } = $props()

  const value = $derived(bench.assumptions?.[definition.field] ?? null)
  const units = $derived(view.units)
  const unit = $derived(units.unitOf(definition.quantity) || definition.unit)
  const key = $derived(changeKey({ field: definition.field }))
</script>

<span class="whitespace-nowrap">
  {#if value === null && definition.unstated}
    {@const { says, usual } = definition.unstated}
    <button
      class="place link"
      aria-label="{definition.label}: {says}; state it"
      onclick={() => bench.change({ field: definition.field, value: usual })}>{says}</button
    >
  {:else if value === null}
    <span class="place">from altitude</span>
  {:else}
    <Figure
      label="{definition.label} ({unit})"
      value={units.show(value, definition.quantity)}
      decimals={definition.decimals}
      step={definition.step}
      fine={definition.fine}
      width={definition.width}
      {size}
      refusal={bench.refusal?.key === key ? bench.refusal.message : null}
      change={(shown) =>
        bench.change({
          field: definition.field,
          value: units.read(shown, definition.quantity),
        })}
      done={() => void bench.settle()}
      refuse={(message) => bench.refuse(key, message)}
      forget={() => bench.clearRefusal(key)}
    />
    <span class="unit">{unit}</span>
  {/if}
</span>

<style>
  .link {
    text-decoration: underline dotted;
    cursor: pointer;
  }
</style>
