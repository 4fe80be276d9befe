<script lang="ts">
  import { timeDifference } from '../parts/format'
  import type { Logbook } from './logbook.svelte'

  /** What changed since the run before, what each should be worth, and what the clock said. */
  let { book }: { book: Logbook } = $props()

  const changed = $derived(book.open ? book.changed[book.open.id] : undefined)
  const matter = $derived(changed?.changes?.filter((one) => one.matters) ?? [])
</script>

{#if changed && changed.before_id !== null}
  <div class="changed" data-testid="changed">
    {#each changed.said ?? [] as one (one)}<p>{one}</p>{/each}
    {#if matter.length > 1}
      <ul>
        {#each matter as one (one.said)}
          <li>
            <em class="place">{one.said}</em>
            <span class="figure"
              >{one.worth_s === null ? '' : `${timeDifference(one.worth_s, 2)} s`}</span
            >
            <span class="unit"
              >{one.worth_s === null ? 'not computed by the model' : 'by the model, alone'}</span
            >
          </li>
        {/each}
      </ul>
    {/if}
  </div>
{/if}

<style>
  .changed {
    font-family: var(--figures);
    font-size: 16px;
    line-height: 1.3;
    border-left: 3px double var(--rule);
    padding-left: 10px;
    margin: 4px 0;
  }
  .unit {
    font-family: var(--labels);
    font-size: 13px;
  }
</style>
