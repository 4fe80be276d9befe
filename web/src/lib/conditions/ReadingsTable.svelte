<script lang="ts">
  import type { WeatherFigure, WeatherReading } from '../api/client'
  import { plain, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'

  /** Readings as they are typed: a row for each moment, written as soon as a cell is left. */
  let {
    readings,
    figures,
    view,
    write,
    refuse,
  }: {
    readings: WeatherReading[]
    figures: WeatherFigure[]
    view: View
    write: (readings: WeatherReading[], remark: string) => void
    refuse: (why: string) => void
  } = $props()

  const units = $derived(view.units)
  const value = (reading: WeatherReading, figure: WeatherFigure): number | null => {
    const found = (reading as unknown as Record<string, number | null>)[figure.name]
    return found ?? null
  }
  const said = (reading: WeatherReading, figure: WeatherFigure): string => {
    const found = value(reading, figure)
    return found === null ? '' : plain(units.show(found, figure.quantity), figure.decimals)
  }

  function typed(row: number, figure: WeatherFigure, field: HTMLInputElement): void {
    const reading = readings[row]
    if (!reading) return
    const empty = field.value.trim() === ''
    const number = typedNumber(field.value)
    if (number === null && !empty) {
      refuse(
        `${reading.at.slice(11, 16)}, ${figure.label}: “${field.value}” was typed; a number is expected.`,
      )
      return
    }
    const found = number === null ? null : units.read(number, figure.quantity)
    const changed = readings.map((one, n) => (n === row ? { ...one, [figure.name]: found } : one))
    write(changed, `${figure.label} at ${reading.at.slice(11, 16)} changed`)
  }
  function moved(row: number, field: HTMLInputElement): void {
    const reading = readings[row]
    if (!reading) return
    const clock = /^\d{1,2}:\d\d(:\d\d)?$/.test(field.value.trim())
    const at = clock
      ? `${reading.at.slice(0, 11)}${field.value.trim().padStart(5, '0')}`
      : field.value.trim()
    write(
      readings.map((one, n) => (n === row ? { ...one, at } : one)),
      `The reading of ${reading.at.slice(11, 16)} moved to ${at.slice(11, 16)}`,
    )
  }
  function add(): void {
    const last = readings.at(-1)
    const before = readings.at(-2)
    const step = last && before ? Date.parse(last.at) - Date.parse(before.at) : 600_000
    const now = new Date(Date.now() - new Date().getTimezoneOffset() * 60_000)
    const at = last
      ? new Date(Date.parse(`${last.at}Z`) + step).toISOString().slice(0, 19)
      : now.toISOString().slice(0, 16)
    // What a first reading does not say is as usual, which the application knows.
    const next = { ...(last ?? {}), at } as WeatherReading
    write([...readings, next], `A reading of ${at.slice(11, 16)} added`)
  }
  function drop(row: number): void {
    const gone = readings[row]
    write(
      readings.filter((_, n) => n !== row),
      `The reading of ${gone?.at.slice(11, 16) ?? ''} removed`,
    )
  }
</script>

<!-- What scrolls must take the keys. -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div class="overflow-auto max-h-107.5" tabindex="0" role="region" aria-label="Readings">
  <table class="ruled" data-testid="readings">
    <thead>
      <tr>
        <th class="sticky top-0 bg-paper whitespace-nowrap" scope="col">Time</th>
        {#each figures as figure (figure.name)}
          <th class="sticky top-0 bg-paper whitespace-nowrap" scope="col" title={figure.says}
            >{figure.label}, {units.unitFor(figure)}</th
          >
        {/each}
        <th class="sticky top-0 bg-paper whitespace-nowrap" scope="col"
          ><span class="sr-only">Remove</span></th
        >
      </tr>
    </thead>
    <tbody>
      {#each readings as reading, row (row)}
        <tr>
          <th scope="row"
            ><input
              class="[border-bottom:1px_dotted_var(--hair)] font-figures text-[15.5px] font-semibold bg-transparent w-16.5"
              aria-label="Time of reading {row + 1}"
              title={reading.at.slice(0, 10)}
              value={reading.at.slice(11, reading.at.endsWith(':00') ? 16 : 19)}
              onchange={(event) => moved(row, event.currentTarget)}
            /></th
          >
          {#each figures as figure (figure.name)}
            <td
              ><input
                class="[border-bottom:1px_dotted_var(--hair)] w-14.5 font-figures text-[15.5px] font-semibold bg-transparent"
                inputmode="decimal"
                aria-label="{figure.label} at {reading.at.slice(11, 16)}"
                value={said(reading, figure)}
                onchange={(event) => typed(row, figure, event.currentTarget)}
              /></td
            >
          {/each}
          <td
            ><button
              class="link"
              aria-label="Remove the reading of {reading.at.slice(11, 16)}"
              onclick={() => drop(row)}>Remove</button
            ></td
          >
        </tr>
      {/each}
    </tbody>
  </table>
  <button class="link" onclick={add}>Add a reading</button>
</div>
