<script lang="ts">
  import type { Result, Sweep } from '../api/client'
  import { timeDifference } from '../parts/format'

  /** Who pays for whom: each corner's and each straight's change of time, as bars of one ink. */
  let {
    stretches,
    changes,
    result,
  }: { stretches: Sweep['stretches']; changes: number[]; result: Result | null } = $props()

  const LEAST_S = 0.0005
  const most = $derived(Math.max(0.005, ...changes.map(Math.abs)))
  const rows = $derived(
    stretches
      .map((stretch, index) => ({ stretch, index, change: changes[index] ?? 0 }))
      .filter(({ change }) => Math.abs(change) >= LEAST_S),
  )
  const number = (corner: number): string => (result?.corners[corner] ? `${corner + 1}` : '')
</script>

{#if rows.length === 0}
  <p class="unit">No corner or straight changes.</p>
{:else}
  <table class="ruled" data-testid="stretch-bars">
    <caption class="sr-only">Change of time at each corner and straight</caption>
    <tbody>
      {#each rows as { stretch, index, change } (index)}
        <tr>
          <th
            class="pl-0 pr-2 py-0 overflow-hidden whitespace-nowrap text-ellipsis max-w-37.5 text-[15px] leading-[1.25]"
            scope="row"
            class:straight={stretch.straight}
            >{#if !stretch.straight}<span class="figure">{number(stretch.corner)}</span
              >{/if}&nbsp;<span class="place">{stretch.label}</span></th
          >
          <td class="pl-0 pr-2 py-0 leading-[1.25]"
            ><svg width="110" height="12" aria-hidden="true"
              ><path d="M55 0V12" stroke="var(--rule)" /><path
                d="M55 6h{(54 * change) / most}"
                stroke={stretch.straight ? 'var(--ink-2)' : 'var(--ink)'}
                stroke-width={stretch.straight ? 3 : 6}
              /></svg
            ></td
          >
          <td class="number figure pl-0 pr-2 py-0 leading-[1.25] text-right text-[15px]"
            >{timeDifference(change)}</td
          >
        </tr>
      {/each}
    </tbody>
  </table>
  <p class="unit">Left: time gained. Thick bars are corners, thin bars straights.</p>
{/if}

<style>
  .straight {
    padding-left: 14px;
  }
</style>
