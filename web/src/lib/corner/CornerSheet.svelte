<script lang="ts">
  import { untrack } from 'svelte'
  import type { PlanBands, Result } from '../api/client'
  import { CORNER_PARTS } from '../state/places'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { standing } from '../state/bands.svelte'
  import Disc from '../parts/Disc.svelte'
  import Tabs from '../parts/Tabs.svelte'
  import { CornerAbout, type Confidence } from './about.svelte'
  import CallsPart from './CallsPart.svelte'
  import DoPart from './DoPart.svelte'
  import FirstPart from './FirstPart.svelte'
  import NotesPart from './NotesPart.svelte'
  import RacePart from './RacePart.svelte'
  import WorkingSheet from './WorkingSheet.svelte'
  import WorthPart from './WorthPart.svelte'

  /** Everything about one corner, in the place of the table. */
  let {
    bench,
    view,
    result,
    bands,
    width,
  }: {
    bench: Workbench
    view: View
    result: Result
    bands: PlanBands | null
    width: number
  } = $props()

  const about = new CornerAbout()
  let known = $state<Confidence>('new')
  const number = $derived(view.corner ?? 0)
  const corner = $derived(result.corners[number])
  const count = $derived(result.corners.length)
  const calls = $derived(
    about.calls.key === `${standing(bench)}/${number}/${view.system}` ? about.calls.value : null,
  )
  const map = $derived(about.map.key === `${standing(bench)}/${number}` ? about.map.value : null)
  const note = $derived(
    bench.open?.plan.circuit.corner_notes?.find((one) => one.corner === corner?.name),
  )
  const nameOf = (offset: number): string =>
    result.corners[(number + offset + count) % count]?.name ?? ''

  $effect(() => {
    // Whatever the plan stands on, the corner and the part decide what is asked for.
    void standing(bench)
    const [at, part, level] = [number, view.cornerPart, known]
    void view.system
    untrack(() => about.look(bench, view, at, part, level))
  })
</script>

{#if corner}
  <section class="leaf" aria-label="Corner {number + 1}, {corner.name}" data-testid="corner-sheet">
    <header>
      <h2 class="title figure">
        <Disc direction={corner.direction} angleDeg={corner.angle_deg} size={24} inverted />
        {number + 1} <span class="place">{corner.name}</span>
      </h2>
      <p class="sentence" data-testid="corner-sentence">
        {calls?.sentence ?? bench.words?.corners[number]?.sentence ?? ''}
      </p>
      <div class="turn">
        <button onclick={() => view.select(result, number - 1)}
          ><kbd class="kbd kbd-sm">[</kbd> <span class="place">{nameOf(-1)}</span></button
        >
        <button onclick={() => view.select(result, number + 1)}
          ><kbd class="kbd kbd-sm">]</kbd> <span class="place">{nameOf(1)}</span></button
        >
        <button onclick={() => (view.cornerOpen = false)}
          ><kbd class="kbd kbd-sm">Esc</kbd> table</button
        >
      </div>
    </header>
    <Tabs
      id="corner"
      label="Parts of the corner's sheet"
      tabs={CORNER_PARTS}
      chosen={view.cornerPart}
      choose={(part) => (view.cornerPart = part)}
    >
      {#snippet beside()}
        {#if note && (note.look_at || note.kerb || note.limit)}
          <span class="said">
            {#if note.look_at}<span class="unit">look at</span>
              <span class="place">{note.look_at}</span>{/if}
            {#if note.kerb}<span class="unit">kerb</span>
              <span class="place">{note.kerb}</span>{/if}
            {#if note.limit}<span class="unit">limit</span>
              <span class="place">{note.limit}</span>{/if}
          </span>
        {/if}
      {/snippet}
    </Tabs>
    <div
      class="panel"
      id="corner-panel"
      role="tabpanel"
      aria-labelledby="corner-tab-{view.cornerPart}"
      tabindex="0"
    >
      {#if view.cornerPart === 'do'}
        <DoPart
          {bench}
          {view}
          {result}
          {corner}
          {number}
          {calls}
          {map}
          {note}
          band={bands?.corners[number] ?? null}
          {width}
        />
      {:else if view.cornerPart === 'calls'}
        <CallsPart {bench} {view} {corner} {number} {calls} trouble={about.calls.trouble} />
      {:else if view.cornerPart === 'worth'}
        <WorthPart {view} {result} {number} worth={about.worth.value} />
      {:else if view.cornerPart === 'race'}
        <RacePart {bench} {view} {corner} {number} racing={about.racing.value} />
      {:else if view.cornerPart === 'first'}
        <FirstPart {view} {corner} {number} first={about.first.value} bind:known />
      {:else if view.cornerPart === 'working'}
        <WorkingSheet {view} workings={about.workings.value} trouble={about.workings.trouble} />
      {:else}
        <NotesPart {bench} {corner} note={note ?? null} />
      {/if}
    </div>
  </section>
{/if}

<style>
  .leaf {
    background: var(--leaf);
    border-top: 3px solid var(--ink);
    border-bottom: 1px solid var(--ink);
  }
  header {
    display: flex;
    align-items: stretch;
    border-bottom: 1px solid var(--ink);
    min-height: 42px;
  }
  .title {
    display: flex;
    gap: 9px;
    align-items: center;
    background: var(--ink);
    color: var(--paper);
    padding: 2px 14px;
    font-size: 22px;
    flex: none;
    min-width: 202px;
    max-width: 320px;
  }
  .title .place {
    font-weight: 500;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .sentence {
    flex: 1;
    font-family: var(--figures);
    font-weight: 500;
    font-size: 18px;
    line-height: 1.15;
    align-self: center;
    padding: 3px 16px;
  }
  .turn {
    display: flex;
    gap: 14px;
    align-items: center;
    padding: 0 12px;
    font-size: 14px;
    flex: none;
  }
  .turn button {
    cursor: pointer;
    white-space: nowrap;
  }
  .leaf > :global(.tabs) {
    padding: 3px 14px 0;
  }
  .said {
    margin-left: auto;
    font-size: 14px;
    align-self: center;
  }
  .panel {
    padding: 6px 14px 8px;
    min-height: 280px;
  }
  @media (max-width: 900px) {
    header {
      flex-wrap: wrap;
    }
    .sentence {
      flex-basis: 100%;
      order: 3;
    }
    .turn {
      flex-wrap: wrap;
      gap: 4px 12px;
    }
    .said {
      margin-left: 0;
    }
  }
</style>
