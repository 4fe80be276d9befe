<script lang="ts">
  import { tick } from 'svelte'
  import type { FigureRow } from '../api/client'
  import type { Units } from '../parts/units'
  import CarFigure from './CarFigure.svelte'

  /** A figure of a row changed where it stands; where it may be left out, stated and removed. */
  let {
    row,
    value,
    units,
    write,
  }: {
    row: FigureRow
    value: number | null | undefined
    units: Units
    /** In the unit of documents; null takes it away. */
    write: (value: number | null) => Promise<string | null>
  } = $props()

  const unit = $derived(units.unitFor(row))
  let here: HTMLElement
  /** State a figure that was none: its usual value stands there, ready to be typed over. */
  async function state(): Promise<void> {
    await write(row.unstated?.usual ?? 1)
    await tick()
    const field = here.querySelector('input')
    field?.focus()
    field?.select()
  }
</script>

<span bind:this={here}>
  {#if value === null || value === undefined}
    <button
      class="link"
      aria-label="{row.label}: {row.unstated?.says ?? 'not set'}; enter a value"
      onclick={() => void state()}>{row.unstated?.says ?? 'not set'}</button
    >
  {:else}
    <CarFigure
      label={unit ? `${row.label} (${unit})` : row.label}
      value={units.show(value, row.quantity)}
      {...units.fit(row)}
      width="5ch"
      write={(next) => write(units.read(next, row.quantity))}
    />
    <span class="unit">{unit}</span>
    {#if row.unstated}
      <button class="link" aria-label="{row.label}: remove" onclick={() => void write(null)}
        >×</button
      >
    {/if}
  {/if}
</span>
