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
  const unit = $derived(axis ? units.unitFor(axis) : '')
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

<fieldset class="gap-x-3 gap-y-0.5 flex flex-wrap items-baseline text-[14px]">
  <legend class="sr-only">{label}</legend>
  <label
    ><span class="pr-1.5 font-semibold">{label}</span>
    <select
      class="max-w-65 bg-paper text-[15px]"
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
        class="dotted-below w-15.5 font-figures text-[16px] font-semibold bg-transparent text-right"
        inputmode="decimal"
        aria-label="{label}: from"
        value={ends.low}
        onchange={(e) => typed('low', e.currentTarget)}
      /></label
    >
    <label
      >to <input
        class="dotted-below w-15.5 font-figures text-[16px] font-semibold bg-transparent text-right"
        inputmode="decimal"
        aria-label="{label}: to"
        value={ends.high}
        onchange={(e) => typed('high', e.currentTarget)}
      />
      <span class="unit">{unit}</span></label
    >
    <label
      >at <input
        class="dotted-below font-figures text-[16px] font-semibold bg-transparent text-right w-8.5"
        inputmode="numeric"
        aria-label="{label}: number of values"
        value={range.count}
        onchange={(e) => counted(e.currentTarget)}
      /> values</label
    >
  {/if}
</fieldset>
