<script lang="ts">
  import { untrack } from 'svelte'
  import type { Kind } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import PlanFigure from '../strip/PlanFigure.svelte'
  import { lapTime, timeDifference } from '../parts/format'

  /** Every headline figure of one document, each with what it means. */
  let { bench, view, owner }: { bench: Workbench; view: View; owner: Kind } = $props()

  /** The lap as it was when the sheet was opened, which lies under it. */
  const before = untrack(() => bench.result?.lap_time_s ?? null)
  const now = $derived(bench.result?.lap_time_s ?? null)
  const rows = $derived(bench.figures.of(owner))
</script>

{#if now !== null}
  <p
    class="lap px-0 py-1 sticky -top-4 z-1 bg-leaf text-[14px]"
    aria-live="polite"
    data-testid="sheet-lap"
  >
    The lap <span class="figure mx-1.5 my-0 text-[19px]">{lapTime(now)}</span>
    {#if before !== null}
      <span class="figure mx-1.5 my-0 text-[19px]">{timeDifference(now - before)}</span>
      <span class="unit">since this sheet was opened</span>
    {/if}
  </p>
{/if}
<table class="ruled mb-3">
  <tbody>
    {#each rows as row (row.name)}
      <tr>
        <th class="pl-0 pr-2.5 py-0.5 whitespace-nowrap" scope="row">{row.label}</th>
        <td class="pl-0 pr-2.5 py-0.5 whitespace-nowrap"
          ><PlanFigure {bench} {view} {row} optional /></td
        >
        <td class="unit pl-0 pr-2.5 py-0.5 whitespace-normal leading-[1.2]">{row.changes}</td>
      </tr>
    {/each}
  </tbody>
</table>
