<script lang="ts">
  import type { DrillQuestion, DrillScored } from '../api/client'

  /** Words to choose from by their number, or the gears by theirs. */
  let {
    question,
    scored,
    give,
    keys,
  }: {
    question: DrillQuestion
    scored: DrillScored | null
    give: (word: string) => void
    keys: (keys: (event: KeyboardEvent) => boolean) => void
  } = $props()

  const gears = $derived(question.way === 'gear')
  let chosen = $state('')
  function choose(word: string): void {
    if (scored) return
    chosen = word
    give(word)
  }
  $effect(() => {
    keys((event) => {
      const option = question.options[Number(event.key) - 1]
      if (!/^[1-9]$/.test(event.key) || !option) return false
      choose(option.value)
      return true
    })
  })
</script>

<ol class="gap-1.5 grid" class:gears>
  {#each question.options as option, n (option.value)}
    <li>
      <button
        class="figure px-3 py-1 border border-rule w-full min-h-11 text-[19px] text-left bg-leaf cursor-pointer"
        aria-pressed={chosen === option.value}
        aria-keyshortcuts={String(n + 1)}
        disabled={scored !== null}
        onclick={() => choose(option.value)}
        >{#if !gears}<kbd class="kbd kbd-sm" aria-hidden="true">{n + 1}</kbd>{/if}
        {option.label}</button
      >
    </li>
  {/each}
</ol>

<style>
  .gears {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .gears button {
    width: 64px;
    min-height: 64px;
    font-size: 30px;
    text-align: center;
  }
  button:hover:not(:disabled) {
    background: var(--wash);
  }
  button:disabled {
    cursor: default;
  }
  [aria-pressed='true'] {
    box-shadow: inset 0 0 0 2px var(--ink);
  }
</style>
