<script lang="ts">
  import type { LogColumns } from '../api/client'
  import { lapTime, plain } from '../parts/format'
  import ChannelSheet from './ChannelSheet.svelte'
  import type { Logbook } from './logbook.svelte'
  import type { Reading, Readings } from './readings.svelte'

  /** Files to import: what was found in each, its channels in small, columns chosen by hand. */
  let { book, readings }: { book: Logbook; readings: Readings } = $props()

  const events = $derived((book.season?.events ?? []).filter((event) => event.here))
  // svelte-ignore state_referenced_locally
  let place = $state(
    book.place.event_id ? `${book.place.event_id}/${book.place.session ?? ''}` : '',
  )
  let mapped = $state<number | null>(null)

  function keep(): void {
    const [event, session] = place.split('/')
    void readings.keepAll(event ? Number(event) : null, session ? Number(session) : null)
  }
  /** Take a column for a channel, or none for it; a column serves one channel at a time. */
  function choose(reading: Reading, role: string, column: string, unit: string | null): void {
    const shown = reading.preview
    if (!shown) return
    const number = column === '' ? null : Number(column)
    const others = Object.entries(shown.columns).filter(
      ([name, one]) => name !== role && one.number !== number,
    )
    const columns: LogColumns = Object.fromEntries(others)
    const units = shown.choices?.find((one) => one.role === role)?.units ?? []
    if (number !== null)
      columns[role] = { number, unit: unit ?? shown.columns[role]?.unit ?? units[0] ?? '' }
    void readings.again(reading, columns)
  }
  /** The same from the sheet of channels, where no role takes the column from what it was. */
  function use(reading: Reading, number: number, role: string): void {
    const was = reading.preview?.channels?.find((one) => one.number === number)?.role
    if (role !== '') choose(reading, role, String(number), null)
    else if (was) choose(reading, was, '', null)
  }
  function drawn(values: number[]): string {
    const low = Math.min(...values)
    const high = Math.max(...values)
    const size = Math.max(high - low, 1e-9)
    return values
      .map((value, n) => {
        const x = (n / Math.max(values.length - 1, 1)) * 240
        return `${n === 0 ? 'M' : 'L'}${x.toFixed(1)} ${(22 - ((value - low) / size) * 20).toFixed(1)}`
      })
      .join('')
  }
</script>

<section aria-label="Files to import" data-testid="readings">
  <header class="px-0 py-1 gap-x-4.5 gap-y-1 flex flex-wrap items-baseline">
    <h2 class="figure text-[20px]">Files to import</h2>
    <span class="unit">not saved yet</span>
    <label
      ><span class="unit">Save in</span>
      <select
        class="dotted-below bg-transparent text-[14px] max-w-65"
        aria-label="Session to save them in"
        bind:value={place}
      >
        <option value="">no event</option>
        {#each events as event (event.id)}
          {#each event.sessions as session (session.number)}
            <option value="{event.id}/{session.number}">{event.name}, {session.name}</option>
          {/each}
        {/each}
      </select></label
    >
    <button
      class="btn btn-sm btn-outline"
      disabled={readings.busy || readings.ready.length === 0}
      onclick={keep}
      >Save {readings.ready.length === 1 ? 'it' : `all ${readings.ready.length}`}</button
    >
  </header>
  {#each readings.files as one (one.key)}
    <article class="px-0 py-1 border-t border-t-rule">
      <p class="line gap-x-4 gap-y-0.5 flex flex-wrap items-baseline">
        <span class="figure name text-[16px]">{one.name}</span>
        {#if one.doing}
          <span role="status" class="unit">{one.doing}…</span>
          <button class="link" onclick={() => readings.stop(one)}>Stop</button>
        {:else if one.preview}
          {#if one.preview.best_s !== null}<span class="figure">{lapTime(one.preview.best_s)}</span
            >{/if}
          <span class="unit"
            >{one.preview.file_kind}, {one.preview.samples} samples, {plain(one.preview.rate_hz, 0)} a
            second{one.preview.remembered ? '; columns as chosen last time' : ''}</span
          >
          {#if (one.preview.header?.length ?? 0) > 0}
            <button
              class="link"
              aria-expanded={mapped === one.key}
              onclick={() => (mapped = mapped === one.key ? null : one.key)}>Columns</button
            >
          {/if}
        {/if}
        <button class="link" onclick={() => readings.leave(one)}>Remove</button>
      </p>
      {#if one.trouble}<p role="alert" class="text-[15px]">{one.trouble}</p>{/if}
      {#each one.preview?.faults ?? [] as fault (fault)}
        <p role="alert" class="text-[15px]">{fault}</p>
      {/each}
      {#if one.preview?.doubt}
        <p role="alert" class="text-[15px]">{one.preview.doubt}</p>
        <label class="line gap-x-4 gap-y-0.5 flex flex-wrap items-baseline">
          <input
            type="checkbox"
            class="checkbox checkbox-sm"
            checked={one.certain}
            onchange={(event) => readings.sure(one, event.currentTarget.checked)}
          />
          <span>This log is from this circuit</span>
        </label>
      {/if}
      {#each one.preview?.doubts ?? [] as doubt (doubt.role)}
        {@const chosen = one.preview?.columns[doubt.role]}
        <p role="alert" class="text-[15px]">
          {doubt.said}
          {#if chosen && !one.doing}<button
              class="link"
              onclick={() => choose(one, doubt.role, String(chosen.number), doubt.unit)}
              >Use {doubt.unit}</button
            >{/if}
        </p>
      {/each}
      {#each one.preview?.said ?? [] as said (said)}<p class="unit">{said}</p>{/each}
      {#if one.preview && (mapped === one.key || (one.preview.faults?.length ?? 0) > 0) && !one.doing}
        {@const shown = one.preview}
        <table class="ruled" data-testid="columns">
          <caption class="sr-only">Columns of the channels</caption>
          <tbody>
            {#each shown.choices ?? [] as choice (choice.role)}
              {@const chosen = shown.columns[choice.role]}
              {@const strip = shown.strips?.find((s) => s.role === choice.role)}
              <tr>
                <th scope="row">{choice.label}{choice.needed ? ' (needed)' : ''}</th>
                <td>
                  <select
                    class="dotted-below bg-transparent text-[14px] max-w-65"
                    aria-label="Column of {choice.label}"
                    value={chosen ? String(chosen.number) : ''}
                    onchange={(event) => choose(one, choice.role, event.currentTarget.value, null)}
                  >
                    <option value="">not logged</option>
                    {#each shown.header ?? [] as name, number (number)}
                      <option value={String(number)}
                        >{name || `column ${number + 1}`} ({shown.first?.[0]?.[number] ??
                          ''})</option
                      >
                    {/each}
                  </select>
                </td>
                <td>
                  {#if chosen && choice.units.length > 1}
                    <select
                      class="dotted-below bg-transparent text-[14px] max-w-65"
                      aria-label="Unit of {choice.label}"
                      value={chosen.unit}
                      onchange={(event) =>
                        choose(one, choice.role, String(chosen.number), event.currentTarget.value)}
                    >
                      {#each choice.units as unit (unit)}<option value={unit}>{unit}</option>{/each}
                    </select>
                  {:else}<span class="unit">{chosen?.unit ?? ''}</span>{/if}
                </td>
                <td>
                  {#if strip}
                    <svg
                      class="inline-block align-middle"
                      width="240"
                      height="24"
                      role="img"
                      aria-label="{choice.label} along the file"
                    >
                      <path d={drawn(strip.values)} fill="none" stroke="var(--ink)" />
                    </svg>
                    <span class="unit"
                      >{plain(Math.min(...strip.values), 1)} to {plain(
                        Math.max(...strip.values),
                        1,
                      )}
                      {strip.unit}</span
                    >
                  {/if}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
        <ChannelSheet preview={shown} {drawn} use={(n, role) => use(one, n, role)} />
      {/if}
    </article>
  {/each}
</section>
