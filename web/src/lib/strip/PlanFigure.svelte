<script lang="ts">
  import type { FigureRow } from '../api/client'
  import { changeKey, type Workbench } from '../state/workbench.svelte'
  import type { View } from '../state/view.svelte'
  import Figure from '../parts/Figure.svelte'

  /**
   * One of the plan’s figures, wired to the workbench. One that is not stated says what holds
   * instead and can be stated; `optional` offers the way back.
   */
  let {
    bench,
    view,
    row,
    size = '17px',
    optional = false,
  }: { bench: Workbench; view: View; row: FigureRow; size?: string; optional?: boolean } = $props()

  const value = $derived(bench.figure(row.name))
  const units = $derived(view.units)
  const unit = $derived(units.unitFor(row))
  const key = $derived(changeKey({ field: row.name }))
  const to = (next: number | null) => ({ field: row.name, value: next })
  const read = (shown: number): number => units.read(shown, row.quantity)
  const set = (next: number | null): void => bench.change(to(next))
</script>

<span class="whitespace-nowrap">
  {#if row.options.length > 0}
    <select
      class="bg-paper max-w-full"
      aria-label={row.label}
      value={`${value ?? 0}`}
      onchange={(event) => {
        set(Number(event.currentTarget.value))
        void bench.settle()
      }}
    >
      {#each row.options as option, index (option.name)}
        <option value={`${index}`}>{option.name}</option>
      {/each}
    </select>
  {:else if value === null}
    {@const usual = row.unstated?.usual ?? null}
    {#if row.unstated && usual !== null}
      <button
        class="place state"
        aria-label="{row.label}: {row.unstated.says}; enter a value"
        onclick={() => set(usual)}>{row.unstated.says}</button
      >
    {:else}<span class="place">not set</span>{/if}
  {:else}
    <Figure
      label="{row.label} ({unit})"
      value={units.show(value, row.quantity)}
      {...units.fit(row)}
      width="{row.width_ch}ch"
      {size}
      refusal={bench.refusal?.key === key ? bench.refusal.message : null}
      change={(shown) => set(read(shown))}
      likely={(values) => bench.foresee(values.map((shown) => to(read(shown))))}
      done={() => void bench.settle()}
      refuse={(message) => bench.refuse(key, message)}
      forget={() => bench.clearRefusal(key)}
    />
    <span class="unit">{unit}</span>
    {#if optional && row.unstated}
      <button
        class="link text-[13px]"
        aria-label="Remove {row.label}"
        onclick={() => {
          set(null)
          void bench.settle()
        }}>×</button
      >
    {/if}
  {/if}
</span>

<style>
  .state {
    text-decoration: underline dotted;
    cursor: pointer;
  }
</style>
