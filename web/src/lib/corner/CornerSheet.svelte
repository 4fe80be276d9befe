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
  <section
    class="leaf border-t-3 border-t-ink border-b border-b-ink bg-leaf"
    aria-label="Corner {number + 1}, {corner.name}"
    data-testid="corner-sheet"
  >
    <header class="border-b border-b-ink flex items-stretch min-h-10.5 narrow:flex-wrap">
      <h2
        class="title figure px-3.5 py-0.5 gap-2.25 flex-none flex items-center bg-ink text-paper text-[22px] min-w-50.5 max-w-80"
      >
        <Disc direction={corner.direction} angleDeg={corner.angle_deg} size={24} inverted />
        {number + 1} <span class="place">{corner.name}</span>
      </h2>
      <p
        class="px-4 py-0.75 flex-1 font-figures font-medium text-[18px] leading-[1.15] self-center narrow:basis-full narrow:order-3"
        data-testid="corner-sentence"
      >
        {calls?.sentence ?? bench.words?.corners[number]?.sentence ?? ''}
      </p>
      <div
        class="px-3 py-0 gap-3.5 flex-none flex items-center text-[14px] narrow:gap-x-3 narrow:gap-y-1 narrow:flex-wrap"
      >
        <button
          class="cursor-pointer whitespace-nowrap"
          onclick={() => view.select(result, number - 1)}
          ><kbd class="kbd kbd-sm">[</kbd> <span class="place">{nameOf(-1)}</span></button
        >
        <button
          class="cursor-pointer whitespace-nowrap"
          onclick={() => view.select(result, number + 1)}
          ><kbd class="kbd kbd-sm">]</kbd> <span class="place">{nameOf(1)}</span></button
        >
        <button class="cursor-pointer whitespace-nowrap" onclick={() => (view.cornerOpen = false)}
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
          <span class="ml-auto text-[14px] self-center narrow:ml-0">
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
      class="px-3.5 pt-1.5 pb-2 min-h-70"
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
  .title .place {
    font-weight: 500;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .leaf > :global(.tabs) {
    padding: 3px 14px 0;
  }
</style>
