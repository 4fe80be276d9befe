<script lang="ts">
  import type { LapKind } from '../api/client'
  import { lapTime } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Logbook } from './logbook.svelte'

  /** The laps of a run: chosen, marked with a key, or typed one under another. */
  let { book, view }: { book: Logbook; view: View } = $props()

  const run = $derived(book.open?.run)
  const kinds = $derived(book.open?.lap_kinds ?? [])
  /** What a lap was, where it was not driven for its time. */
  const saidOf = (kind: LapKind): string =>
    kind === 'timed' ? '' : (kinds.find((one) => one.kind === kind)?.said ?? '')
  const typed = $derived(
    !run?.log && !(run?.laps ?? []).some((one) => (one.corners?.length ?? 0) > 0),
  )

  function mark(number: number, kind: LapKind): void {
    void book.write({ mark: { number, kind } })
  }
  function key(event: KeyboardEvent, number: number): void {
    const kind = kinds.find((one) => one.key === event.key.toLowerCase())?.kind
    if (!kind || event.ctrlKey || event.metaKey || event.altKey) return
    event.preventDefault()
    event.stopPropagation()
    mark(number, kind)
  }
</script>

{#if run}
  <div
    class="laps px-0 py-1 gap-x-4 gap-y-1 flex flex-wrap"
    role="group"
    aria-label="Laps"
    data-testid="laps"
  >
    {#each run.laps ?? [] as one (one.number)}
      <button
        class="border-b-2 border-b-transparent cursor-pointer"
        class:marked={one.kind !== 'timed'}
        aria-pressed={view.lap === one.number}
        onclick={() => void book.look(view.run, one.number)}
        onkeydown={(event) => key(event, one.number)}
        ><span class="unit"><span class="sr-only">Lap </span>{one.number}</span>
        <span class="figure text-[16px]">{one.lap_time_s ? lapTime(one.lap_time_s) : '–'}</span>
        {#if saidOf(one.kind)}<span class="unit">{saidOf(one.kind)}</span>{/if}</button
      >
    {/each}
  </div>
  {#if view.lap !== null && (run.laps ?? []).some((one) => one.number === view.lap)}
    <p class="unit pb-1">
      Lap {view.lap} is
      <select
        class="dotted-below bg-transparent text-ink"
        aria-label="What lap {view.lap} was"
        value={(run.laps ?? []).find((one) => one.number === view.lap)?.kind}
        onchange={(event) => mark(view.lap ?? 0, event.currentTarget.value as LapKind)}
      >
        {#each kinds as kind (kind.kind)}<option value={kind.kind}>{kind.said}</option>{/each}
      </select>
      <span class="keys pl-3 narrow:hidden"
        >keys on a lap: {kinds
          .filter((kind) => kind.key)
          .map((kind) => `${kind.key} ${kind.said}`)
          .join(', ')}</span
      >
    </p>
  {/if}
  {#if typed}
    <label class="block max-w-105"
      ><span class="unit"
        >Laps, a line each: 1:32.418, then sectors if they are known, then o, i, t or v</span
      >
      <textarea
        class="px-2 py-1 border border-rule w-full font-figures text-[17px] font-semibold leading-[1.35] bg-leaf narrow:text-[22px]"
        rows={Math.min(Math.max((run.typed ?? '').split('\n').length + 1, 5), 14)}
        aria-label="Laps as typed"
        inputmode="text"
        autocapitalize="off"
        spellcheck="false"
        value={run.typed}
        onchange={(event) => void book.write({ typed: event.currentTarget.value })}
      ></textarea></label
    >
    {#each book.open?.typed_faults ?? [] as fault (fault)}
      <p role="alert" class="text-[15px]">{fault}</p>
    {/each}
  {/if}
{/if}

<style>
  .laps [aria-pressed='true'] {
    border-bottom-color: var(--ink);
  }
  .marked .figure {
    color: var(--ink-2);
    font-style: italic;
    font-weight: 500;
  }
</style>
