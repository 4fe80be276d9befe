<script lang="ts">
  import type { Debrief } from '../api/client'
  import { lapTime, timeDifference } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import LapsPlot from './LapsPlot.svelte'
  import type { Logbook } from './logbook.svelte'

  /** The event as it is talked over: a page for each run, for the screen and for paper. */
  let { book, view, width }: { book: Logbook; view: View; width: number } = $props()

  const BAR = 90
  type Run = NonNullable<Debrief['runs']>[number]
  const mostOf = (run: Run): number =>
    Math.max(0.05, ...(run.corners ?? []).map((corner) => corner.lost_s ?? 0))

  const event = $derived(book.open?.event_id ?? null)
  const found = $derived(book.debrief)
  $effect(() => {
    const wanted = event
    if (wanted !== null && !book.debrief && !book.working) void book.talkOver(wanted)
  })
</script>

{#if event === null}
  <p class="px-0 py-6 text-[15px]">
    This run has no event. Assign it to one to see the debrief here.
  </p>
{:else if found}
  <p class="px-0 py-1.5 gap-4.5 flex items-center print:hidden">
    <button class="btn btn-sm btn-outline" onclick={() => print()}
      >Print, a page for each run</button
    >
    <a class="link" href="/api/events/{event}/debrief.md" download>Markdown</a>
  </p>
  <div data-testid="debrief">
    {#each found.runs ?? [] as run (run.run_id)}
      <article
        class="px-0 pt-2 pb-4.5 [border-top:3px_double_var(--rule)] print:border-t-0 print:break-after-page"
      >
        <header>
          <h2 class="figure text-[20px]">{found.event}: {run.name}</h2>
          <p class="unit">
            {found.circuit}, {found.held_on}{run.session ? `, ${run.session}` : ''}
          </p>
        </header>
        <p class="unit">{run.facts?.join('; ')}</p>
        <p class="gap-x-5 gap-y-0.5 flex flex-wrap">
          {#if run.best_s}<span
              ><span class="unit">best</span>
              <span class="figure text-[24px]">{lapTime(run.best_s)}</span></span
            >{/if}
          {#if run.predicted_s}<span
              ><span class="unit">predicted</span>
              <span class="figure text-[24px]">{lapTime(run.predicted_s)}</span></span
            >{/if}
        </p>
        {#if run.trace}
          <div class="picture">
            <LapsPlot
              lap={run.trace}
              corners={run.corners ?? []}
              length={run.trace.length_m}
              {view}
              {width}
              still
            />
          </div>
        {/if}
        {#each [...(run.changed ?? []), ...(run.said ?? [])] as one, n (n)}<p
            class="font-figures text-[15px]"
          >
            {one}
          </p>{/each}
        <p class="laps gap-x-5 gap-y-0.5 flex flex-wrap">
          {#each run.laps ?? [] as lap (lap.number)}
            <span
              ><span class="unit">{lap.number}</span>
              <span class="figure">{lap.said}</span></span
            >
          {/each}
        </p>
        {#if (run.corners?.length ?? 0) > 0}
          <table class="ruled">
            <thead>
              <tr>
                <th scope="col">Corner</th>
                <th scope="col" class="number text-right">Lost s</th>
                <th scope="col"><span class="sr-only">Lost, drawn</span></th>
                <th scope="col">Difference on the best lap</th>
                <th scope="col">Observed</th>
              </tr>
            </thead>
            <tbody>
              {#each run.corners ?? [] as corner (corner.name)}
                <tr>
                  <th scope="row"
                    ><span class="figure">{corner.number + 1}</span>
                    <span class="place">{corner.name}</span></th
                  >
                  <td class="number figure text-right"
                    >{corner.lost_s === null ? '' : timeDifference(corner.lost_s, 2)}</td
                  >
                  <td
                    ><svg class="inline-block" width={BAR} height="10" aria-hidden="true"
                      ><path
                        d="M0 5h{(BAR * Math.max(corner.lost_s ?? 0, 0)) / mostOf(run)}"
                        stroke="var(--ink)"
                        stroke-width="7"
                      /></svg
                    ></td
                  >
                  <td>{corner.said}</td>
                  <td>{corner.seen?.join('; ')}</td>
                </tr>
              {/each}
            </tbody>
          </table>
        {/if}
        {#if run.remarks}<p class="font-figures text-[15px]">{run.remarks}</p>{/if}
        <p class="unit pt-1">
          {found.cautions.join(' ')}
        </p>
      </article>
    {/each}
  </div>
{:else if book.working}
  <p role="status" class="px-0 py-6 text-[15px]">{book.working}</p>
{/if}

<style>
  .picture :global(svg) {
    max-width: 100%;
    height: auto;
  }
  @media print {
    article:last-of-type {
      break-after: auto;
    }
  }
</style>
