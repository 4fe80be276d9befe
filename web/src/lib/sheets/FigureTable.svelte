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
  <p class="lap" aria-live="polite" data-testid="sheet-lap">
    The lap <span class="figure">{lapTime(now)}</span>
    {#if before !== null}
      <span class="figure">{timeDifference(now - before)}</span>
      <span class="unit">since this sheet was opened</span>
    {/if}
  </p>
{/if}
<table class="ruled">
  <tbody>
    {#each rows as row (row.name)}
      <tr>
        <th scope="row">{row.label}</th>
        <td><PlanFigure {bench} {view} {row} optional /></td>
        <td class="unit hint">{row.changes}</td>
      </tr>
    {/each}
  </tbody>
</table>

<style>
  .lap {
    position: sticky;
    top: -16px;
    z-index: 1;
    background: var(--leaf);
    padding: 4px 0;
    font-size: 14px;
  }
  .lap .figure {
    font-size: 19px;
    margin: 0 6px;
  }
  table {
    margin-bottom: 12px;
  }
  th,
  td {
    padding: 2px 10px 2px 0;
    white-space: nowrap;
  }
  .hint {
    white-space: normal;
    line-height: 1.2;
  }
</style>
