<script lang="ts">
  import { onMount } from 'svelte'
  import type { DrillQuestion } from '../api/client'
  import type { View } from '../state/view.svelte'
  import ChoiceAnswer from './ChoiceAnswer.svelte'
  import type { Drill, Given } from './drill.svelte'
  import FiguresAnswer from './FiguresAnswer.svelte'
  import RoadAnswer from './RoadAnswer.svelte'
  import ScoreWords from './ScoreWords.svelte'

  /** One question on an empty page, what there is to answer with, and what the plan says to it. */
  let {
    drill,
    view,
    question,
    narrow = false,
  }: { drill: Drill; view: View; question: DrillQuestion; narrow?: boolean } = $props()

  let card = $state<HTMLElement>()
  // On a phone the question comes before all that stands above it.
  onMount(() => {
    if (innerWidth < 900) card?.scrollIntoView({ block: 'start' })
  })

  const scored = $derived(drill.scored)
  /** What the ways to answer would give now. */
  let given = $state.raw<Given | null>(null)
  /** The way to answer takes its own keys first. */
  let answerKeys: ((event: KeyboardEvent) => boolean) | null = null

  function takeKeys(keys: (event: KeyboardEvent) => boolean): void {
    answerKeys = keys
  }
  function take(figures: number[]): void {
    given = { figures, word: '' }
  }
  function give(answer: Given | null = given): void {
    if (answer) void drill.give(answer)
  }
  $effect(() => {
    view.ownKeys = (event) => {
      if (event.key === 'Escape') {
        drill.stop()
        return true
      }
      if (event.key === 'Enter') {
        if ((event.target as HTMLElement).closest('button, a, select')) return false
        if (drill.scored) drill.next()
        else give()
        return true
      }
      return !drill.scored && (answerKeys?.(event) ?? false)
    }
  })
</script>

<article class="card" class:narrow aria-live="polite" bind:this={card}>
  <p class="unit where flex justify-between text-[14px]">
    <span>{question.label}</span>
    <span data-testid="drill-place">{drill.at + 1} of {drill.questions.length}</span>
  </p>
  {#if question.why}<p class="text-[15px] italic font-figures">{question.why}.</p>{/if}
  <h2 class="figure text-[28px] leading-[1.2] narrow:text-[21px]" data-testid="drill-question">
    {question.said}
  </h2>
  <div
    class="body pt-2 gap-x-10 gap-y-3.5 grid grid-cols-[400px_minmax(0,1fr)] items-start narrow:pt-0 narrow:grid-cols-[minmax(0,1fr)]"
  >
    <div>
      {#if question.way === 'road' && question.road}
        <RoadAnswer road={question.road} {scored} given={take} keys={takeKeys} />
      {:else if question.way === 'figures'}
        <FiguresAnswer {question} {scored} {view} given={take} keys={takeKeys} />
      {:else}
        <ChoiceAnswer
          {question}
          {scored}
          give={(word) => give({ figures: [], word })}
          keys={takeKeys}
        />
      {/if}
    </div>
    <div class="beside gap-3.5 grid justify-items-start">
      {#if scored}
        <ScoreWords {scored} />
        <button class="btn btn-primary" onclick={() => drill.next()}
          >{drill.at + 1 < drill.questions.length ? 'Next' : 'Results'}</button
        >
      {:else if question.way === 'road' || question.way === 'figures'}
        <button class="btn btn-primary" disabled={drill.busy} onclick={() => give()}>Answer</button>
      {/if}
      <button class="link text-[14px]" onclick={() => drill.stop()}>Stop this round</button>
    </div>
  </div>
</article>

<style>
  .card {
    display: grid;
    align-content: start;
    gap: 10px;
    max-width: 920px;
    margin: 0 auto;
    padding: 14px 0 20px;
    width: 100%;
  }
  /* The answer stands where it was given; what the plan says to it comes beside it. */
  .narrow .body {
    grid-template-columns: minmax(0, 1fr);
  }
  @media (max-width: 900px) {
    .card {
      padding: 6px 0 14px;
      gap: 6px;
    }
    .beside {
      justify-items: stretch;
    }
  }
</style>
