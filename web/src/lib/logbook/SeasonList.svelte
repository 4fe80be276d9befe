<script lang="ts">
  import type { ListedRun } from '../api/client'
  import { lapTime } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Logbook } from './logbook.svelte'

  /** The season: a line for each run, under its session and its event, with what changed before it. */
  let { bench, book, view }: { bench: Workbench; book: Logbook; view: View } = $props()

  type Kind = 'test' | 'practice' | 'qualifying' | 'race'
  let naming = $state(false)
  const season = $derived(book.season)
  const shownEvent = $derived(book.open?.event_id ?? null)
  /** Events that were unfolded or folded by hand; else the open run's and, with words, all. */
  let unfolded = $state.raw<Record<number, boolean>>({})
  const isOpen = (id: number): boolean =>
    unfolded[id] ?? (id === shownEvent || book.search !== '' || season?.events.length === 1)

  async function shown(id: number, open: boolean): Promise<void> {
    unfolded = { ...unfolded, [id]: open }
    if (!open) return
    const event = season?.events.find((one) => one.id === id)
    const runs = [...(event?.runs ?? []), ...(event?.sessions.flatMap((one) => one.runs) ?? [])]
    for (const run of runs) if (!book.changed[run.id]) await book.askChanged(run.id)
  }
  /** The open run is in sight, however long the season. */
  function shownWhenChosen(chosen: boolean): (line: HTMLElement) => void {
    return (line) => {
      // Once its event is unfolded.
      if (chosen) setTimeout(() => line.scrollIntoView({ block: 'nearest' }), 60)
    }
  }
  function go(run: ListedRun): void {
    if (run.here || run.plan_id === null) void book.look(run.id)
    else location.hash = `#/plan/${run.plan_id}/logbook/${run.id}`
  }
</script>

{#snippet line(run: ListedRun)}
  <li
    class="px-0 py-0.5 gap-1.5 border-t border-t-hair flex items-baseline"
    class:now={run.id === view.run}
    {@attach shownWhenChosen(run.id === view.run)}
  >
    {#if run.here}
      <input
        type="checkbox"
        aria-label="Select {run.name} to compare"
        checked={book.taken.includes(run.id)}
        onchange={(event) => {
          if (book.ticked.length === 0 && book.open && book.open.id !== run.id)
            book.tick(book.open.id, true)
          book.tick(run.id, event.currentTarget.checked)
        }}
      />
    {/if}
    <button class="flex-1 text-left cursor-pointer min-w-0" onclick={() => go(run)}
      ><span class="figure pr-1.5 text-[17px]"
        >{run.best_lap_s ? lapTime(run.best_lap_s) : 'no time'}</span
      >
      <span class="name">{run.name}</span>
      <span class="unit block"
        >{run.driven_at.slice(0, 16).replace('T', ' ')}, {run.car}{run.here
          ? ''
          : `, ${run.circuit}`}</span
      >
      {#if book.changed[run.id]?.in_short}<em class="place block text-[14px]"
          >{book.changed[run.id]?.in_short}</em
        >{/if}</button
    >
  </li>
{/snippet}

<h2 class="font-figures text-[17px] font-semibold">Season</h2>
<label class="find"
  ><span class="sr-only">Find in the logbook</span>
  <input
    type="search"
    placeholder="find a word, a corner, a car"
    aria-label="Find in the logbook"
    value={book.search}
    onchange={(event) => {
      book.search = event.currentTarget.value
      void book.load()
    }}
  /></label
>
<div class="season max-h-[62vh] overflow-y-auto" data-testid="season">
  {#each season?.events ?? [] as event (event.id)}
    <details
      open={isOpen(event.id)}
      ontoggle={(fold) => void shown(event.id, fold.currentTarget.open)}
    >
      <summary class="pt-1.5 cursor-pointer"
        ><span class="figure text-[16px]">{event.name}</span>
        <span class="unit pl-3.5 block">{event.held_on}, {event.circuit}</span></summary
      >
      {#each event.sessions as session (session.number)}
        <h3 class="pt-1 font-semibold">{session.name}</h3>
        <ul data-testid="runs">
          {#each session.runs as run (run.id)}{@render line(run)}{/each}
        </ul>
      {/each}
      {#if event.runs.length > 0}
        <ul>
          {#each event.runs as run (run.id)}{@render line(run)}{/each}
        </ul>
      {/if}
      {#if event.here && season}
        <label class="unit add"
          >Add a session
          <select
            class="dotted-below bg-transparent"
            aria-label="Another session of {event.name}"
            value=""
            onchange={(choice) => {
              void book.addSession(event.id, choice.currentTarget.value as Kind)
              choice.currentTarget.value = ''
            }}
          >
            <option value="">…</option>
            {#each Object.entries(season.session_names) as [kind, name] (kind)}
              <option value={kind}>{name}</option>
            {/each}
          </select></label
        >
      {/if}
    </details>
  {/each}
  {#if season && season.runs.length > 0}
    <h3 class="pt-1 font-semibold">No event</h3>
    <ul data-testid="runs">
      {#each season.runs as run (run.id)}{@render line(run)}{/each}
    </ul>
  {/if}
  {#if season && season.events.length === 0 && season.runs.length === 0}
    <p class="unit">
      {book.search ? 'No run contains all of these words.' : 'No runs yet.'}
    </p>
  {/if}
</div>
{#if naming}
  <!-- svelte-ignore a11y_autofocus -->
  <input
    class="naming"
    autofocus
    aria-label="Name of the new event"
    placeholder="name of the event, then Enter"
    onkeydown={(event) => {
      if (event.key === 'Escape') naming = false
      if (event.key !== 'Enter' || !event.currentTarget.value.trim()) return
      naming = false
      void book.makeEvent(event.currentTarget.value.trim())
    }}
    onblur={() => (naming = false)}
  />
{:else}
  <button class="link" onclick={() => (naming = true)}
    >New event at {bench.open?.circuit.name ?? ''}</button
  >
{/if}

<style>
  .find input,
  .naming {
    width: 100%;
    background: var(--leaf);
    border: 1px solid var(--rule);
    padding: 2px 6px;
    font-size: 14px;
  }
  ::placeholder {
    color: var(--ink-2);
  }
  li.now {
    box-shadow: inset 3px 0 0 var(--ink);
    padding-left: 8px;
    background: var(--wash);
  }
</style>
