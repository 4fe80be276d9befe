<script lang="ts">
  import type { Axis } from '../api/client'
  import { plain, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Range } from './studies.svelte'

  /** What is varied, from where to where, at how many values; among choices there is no range. */
  let {
    label,
    axes,
    axis,
    range,
    most,
    view,
    choose,
    change,
  }: {
    label: string
    axes: Axis[]
    axis: Axis | undefined
    range: Range
    most: number
    view: View
    choose: (name: string) => void
    change: (range: Range) => void
  } = $props()

  const groups = $derived([...new Set(axes.map((one) => one.group))])
  const units = $derived(view.units)
  const unit = $derived(axis ? units.unitOf(axis.quantity) || axis.unit : '')
  const shown = (value: number): string =>
    axis ? plain(units.show(value, axis.quantity), axis.decimals + 1) : ''
  const ends = $derived({
    low: shown(range.low ?? axis?.low ?? 0),
    high: shown(range.high ?? axis?.high ?? 0),
  })

  function typed(end: 'low' | 'high', field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    if (value === null || !axis) {
      field.value = ends[end]
      return
    }
    change({ ...range, [end]: units.read(value, axis.quantity) })
  }
  function counted(field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    if (value === null || value < 3 || value > most) {
      field.value = String(range.count)
      return
    }
    change({ ...range, count: Math.round(value) })
  }
</script>

<fieldset>
  <legend class="sr-only">{label}</legend>
  <label
    ><span class="what">{label}</span>
    <select
      aria-label={label}
      value={axis?.name ?? ''}
      onchange={(e) => choose(e.currentTarget.value)}
    >
      {#each groups as group (group)}
        <optgroup label={group}>
          {#each axes.filter((one) => one.group === group) as one (one.name)}
            <option value={one.name}>{one.label}</option>
          {/each}
        </optgroup>
      {/each}
    </select></label
  >
  {#if axis && axis.choices.length === 0}
    <label
      >from <input
        inputmode="decimal"
        aria-label="{label}: from"
        value={ends.low}
        onchange={(e) => typed('low', e.currentTarget)}
      /></label
    >
    <label
      >to <input
        inputmode="decimal"
        aria-label="{label}: to"
        value={ends.high}
        onchange={(e) => typed('high', e.currentTarget)}
      />
      <span class="unit">{unit}</span></label
    >
    <label
      >at <input
        class="short"
        inputmode="numeric"
        aria-label="{label}: number of values"
        value={range.count}
        onchange={(e) => counted(e.currentTarget)}
      /> values</label
    >
  {/if}
</fieldset>

<style>
  fieldset {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 2px 12px;
    font-size: 14px;
  }
  .what {
    font-weight: 600;
    padding-right: 6px;
  }
  select {
    max-width: 260px;
    background: var(--paper);
    font-size: 15px;
  }
  input {
    width: 62px;
    font-family: var(--figures);
    font-size: 16px;
    font-weight: 600;
    background: transparent;
    border-bottom: 1px dotted var(--ink-2);
    text-align: right;
  }
  .short {
    width: 34px;
  }
</style>
