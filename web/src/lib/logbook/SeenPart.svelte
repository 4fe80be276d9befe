<script lang="ts">
  import type { SeenThere } from '../api/client'
  import { plain, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Logbook } from './logbook.svelte'

  /** What was seen at each corner, typed: nothing of it is needed, and one line serves all laps. */
  let { book, view }: { book: Logbook; view: View } = $props()

  const units = $derived(view.units)
  const seen = $derived(book.open?.run.seen ?? [])
  /** Which lap is spoken of; null: most of them. */
  let lap = $state<number | null>(null)
  const at = (corner: string): SeenThere | undefined =>
    seen.find((one) => one.corner === corner && (one.lap ?? null) === lap)

  function write(corner: string, change: Partial<SeenThere>): void {
    const before = at(corner) ?? { corner, lap }
    void book.write({ seen: { braking_said: '', remark: '', ...before, ...change } as SeenThere })
  }
  const read = (text: string): number | null => (text.trim() ? typedNumber(text) : null)
</script>

<details class="pt-2" open={seen.length > 0 || book.open?.run.log === null}>
  <summary class="figure cursor-pointer text-[16px]">Corner observations</summary>
  <label class="unit"
    >on
    <select
      aria-label="Lap of the observation"
      value={lap ?? ''}
      onchange={(event) => {
        const value = event.currentTarget.value
        lap = value === '' ? null : Number(value)
      }}
    >
      <option value="">most laps</option>
      {#each book.open?.run.laps ?? [] as one (one.number)}
        <option value={one.number}>lap {one.number}</option>
      {/each}
    </select></label
  >
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div
    class="overflow-x-auto"
    role="region"
    tabindex="0"
    aria-label="Corner observations by corner"
  >
    <table class="ruled">
      <thead>
        <tr>
          <th scope="col">Corner</th>
          <th scope="col">Minimum {units.speedUnit}</th>
          <th scope="col">Braked</th>
          <th scope="col">Gear</th>
          <th scope="col">Fault</th>
          <th scope="col">Remark</th>
        </tr>
      </thead>
      <tbody>
        {#each book.open?.corner_names ?? [] as corner, number (number)}
          {@const one = at(corner)}
          <tr>
            <th scope="row"
              ><span class="figure">{number + 1}</span> <span class="place">{corner}</span></th
            >
            <td
              ><input
                class="tiny"
                inputmode="decimal"
                aria-label="{corner}, minimum speed observed"
                value={one?.min_speed_ms == null ? '' : plain(units.speed(one.min_speed_ms), 1)}
                onchange={(event) => {
                  const value = read(event.currentTarget.value)
                  write(corner, {
                    min_speed_ms: value === null ? null : units.read(value, 'speed'),
                  })
                }}
              /></td
            >
            <td
              ><input
                placeholder="10 past 100"
                aria-label="{corner}, braking point observed, against a board"
                value={one?.braking_said ?? ''}
                onchange={(event) =>
                  write(corner, {
                    braking_said: event.currentTarget.value,
                    brake_start_to_corner_m: null,
                  })}
              />
              {#if one?.brake_start_to_corner_m != null}<span class="unit"
                  >{plain(units.length(one.brake_start_to_corner_m), 0)}
                  {units.lengthUnit} before it</span
                >{/if}</td
            >
            <td
              ><input
                class="tiny"
                inputmode="numeric"
                aria-label="{corner}, gear observed"
                value={one?.gear ?? ''}
                onchange={(event) => write(corner, { gear: read(event.currentTarget.value) })}
              /></td
            >
            <td
              ><select
                aria-label="{corner}, fault observed"
                value={one?.fault ?? ''}
                onchange={(event) =>
                  write(corner, {
                    fault: (event.currentTarget.value || null) as SeenThere['fault'],
                  })}
              >
                <option value=""></option>
                {#each Object.entries(book.open?.fault_names ?? {}) as [fault, said] (fault)}<option
                    value={fault}>{said}</option
                  >{/each}
              </select></td
            >
            <td
              ><input
                class="long"
                aria-label="{corner}, remark"
                value={one?.remark ?? ''}
                onchange={(event) => write(corner, { remark: event.currentTarget.value })}
              /></td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
</details>

<style>
  ::placeholder {
    color: var(--ink-2);
    font-weight: 500;
  }
  input,
  select {
    font-family: var(--figures);
    font-weight: 600;
    font-size: 15px;
    background: transparent;
    border-bottom: 1px dotted var(--ink-2);
    width: 110px;
  }
  .tiny {
    width: 48px;
  }
  .long {
    width: 200px;
  }
  th,
  td {
    white-space: nowrap;
  }
</style>
