<script lang="ts">
  import type { DrillScored } from '../api/client'

  /** What the plan says to an answer: how it was, what it would cost, and the corner's sentence. */
  let { scored }: { scored: DrillScored } = $props()
  const mark = $derived(scored.inside ? '✓' : scored.dangerous ? '!' : scored.near ? '≈' : '✕')
</script>

<div
  class="pl-3 pr-0 pt-2 pb-0 gap-1 border-l-3 border-l-ink w-full grid text-[16px]"
  class:dangerous={scored.dangerous}
  data-testid="drill-score"
>
  <p class="verdict figure text-[21px]">
    <span class="mark" aria-hidden="true">{mark}</span>
    {scored.verdict}
  </p>
  {#if !scored.inside || scored.figures.length > 0}
    <p>
      You said <b class="figure">{scored.given_said}</b>; the plan has
      <b class="figure">{scored.right_said}</b>.
    </p>
  {/if}
  {#if scored.price}<p>{scored.price}</p>{/if}
  <p class="place text-[18px] leading-[1.3]">{scored.sentence}</p>
  <p class="unit text-[14px]">{scored.due}</p>
</div>

<style>
  .dangerous {
    border-left: 6px double var(--ember);
  }
  .dangerous .verdict {
    color: var(--ember);
  }
</style>
