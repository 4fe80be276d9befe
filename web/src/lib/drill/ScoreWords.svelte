<script lang="ts">
  import type { DrillScored } from '../api/client'

  /** What the plan says to an answer: how it was, what it would cost, and the corner's sentence. */
  let { scored }: { scored: DrillScored } = $props()
  const mark = $derived(scored.inside ? '✓' : scored.dangerous ? '!' : scored.near ? '≈' : '✕')
</script>

<div class="score" class:dangerous={scored.dangerous} data-testid="drill-score">
  <p class="verdict figure"><span class="mark" aria-hidden="true">{mark}</span> {scored.verdict}</p>
  {#if !scored.inside || scored.figures.length > 0}
    <p>
      You said <b class="figure">{scored.given_said}</b>; the plan has
      <b class="figure">{scored.right_said}</b>.
    </p>
  {/if}
  {#if scored.price}<p>{scored.price}</p>{/if}
  <p class="place sentence">{scored.sentence}</p>
  <p class="unit">{scored.due}</p>
</div>

<style>
  .score {
    width: 100%;
    display: grid;
    gap: 4px;
    padding: 8px 0 0 12px;
    border-left: 3px solid var(--ink);
    font-size: 16px;
  }
  .dangerous {
    border-left: 6px double var(--ember);
  }
  .verdict {
    font-size: 21px;
  }
  .dangerous .verdict {
    color: var(--ember);
  }
  .sentence {
    font-size: 18px;
    line-height: 1.3;
  }
  .unit {
    font-size: 14px;
  }
</style>
