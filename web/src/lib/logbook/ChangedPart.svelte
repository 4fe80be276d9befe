<script lang="ts">
  import { timeDifference } from '../parts/format'
  import type { Logbook } from './logbook.svelte'

  /** What changed since the run before, what each should be worth, and what the clock said. */
  let { book }: { book: Logbook } = $props()

  const changed = $derived(book.open ? book.changed[book.open.id] : undefined)
  const matter = $derived(changed?.changes?.filter((one) => one.matters) ?? [])
</script>

{#if changed && changed.before_id !== null}
  <div
    class="pl-2.5 mx-0 my-1 [border-left:3px_double_var(--rule)] font-figures text-[16px] leading-[1.3]"
    data-testid="changed"
  >
    {#each changed.said ?? [] as one (one)}<p>{one}</p>{/each}
    {#if matter.length > 1}
      <ul>
        {#each matter as one (one.said)}
          <li>
            <em class="place">{one.said}</em>
            <span class="figure"
              >{one.worth_s === null ? '' : `${timeDifference(one.worth_s, 2)} s`}</span
            >
            <span class="unit font-labels text-[13px]"
              >{one.worth_s === null ? 'not modelled' : 'modelled, on its own'}</span
            >
          </li>
        {/each}
      </ul>
    {/if}
  </div>
{/if}
