<script lang="ts">
  import { typedNumber } from '../parts/format'
  import type { Logbook } from './logbook.svelte'

  /** A run that nobody drives: for trying the logbook without a logger. */
  let { book }: { book: Logbook } = $props()

  let seed = $state(1)
  let places = $state(true)
</script>

<details>
  <summary class="cursor-pointer">Without a logger: a simulated run</summary>
  <label class="pr-3"
    >seed <input
      inputmode="numeric"
      aria-label="Seed of the simulated run"
      value={seed}
      onchange={(event) => {
        const value = typedNumber(event.currentTarget.value)
        if (value !== null && value >= 0) seed = Math.round(value)
        event.currentTarget.value = String(seed)
      }}
    /></label
  >
  <label class="pr-3"><input type="checkbox" bind:checked={places} /> logs positions</label>
  <button
    class="link"
    disabled={book.working !== ''}
    onclick={() =>
      void book.simulate({
        laps: null,
        seed,
        truth: null,
        rate_hz: null,
        places,
        speed_pct: null,
      })}>Use</button
  >
  <p class="unit">
    A simulated driver in a car slightly different from its sheet, with imperfect instruments.
  </p>
</details>

<style>
  input:not([type='checkbox']) {
    width: 44px;
    font-family: var(--figures);
    font-weight: 600;
    background: transparent;
    border-bottom: 1px dotted var(--ink-2);
  }
</style>
