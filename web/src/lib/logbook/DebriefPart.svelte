<script lang="ts">
  import { lapTime, timeDifference } from '../parts/format'
  import type { Logbook } from './logbook.svelte'

  /** The event as it is talked over: a page for each run, for the screen and for paper. */
  let { book }: { book: Logbook } = $props()

  const event = $derived(book.open?.event_id ?? null)
  const found = $derived(book.debrief)
  $effect(() => {
    const wanted = event
    if (wanted !== null && !book.debrief && !book.working) void book.talkOver(wanted)
  })
</script>

{#if event === null}
  <p class="empty">
    This run belongs to no event. Put it into one, and its event is talked over here.
  </p>
{:else if found}
  <p class="tools">
    <button class="btn btn-sm btn-outline" onclick={() => print()}
      >Print, a page for each run</button
    >
    <a class="link" href="/api/events/{event}/debrief.md" download>Markdown</a>
  </p>
  <div class="debrief" data-testid="debrief">
    {#each found.runs ?? [] as run (run.run_id)}
      <article>
        <header>
          <h2 class="figure">{found.event}: {run.name}</h2>
          <p class="unit">
            {found.circuit}, {found.held_on}{run.session ? `, ${run.session}` : ''}
          </p>
        </header>
        <p class="unit">{run.facts?.join('; ')}</p>
        <p class="times">
          {#if run.best_s}<span
              ><span class="unit">best</span>
              <span class="figure big">{lapTime(run.best_s)}</span></span
            >{/if}
          {#if run.predicted_s}<span
              ><span class="unit">predicted</span>
              <span class="figure big">{lapTime(run.predicted_s)}</span></span
            >{/if}
        </p>
        {#each [...(run.changed ?? []), ...(run.said ?? [])] as one, n (n)}<p class="said">
            {one}
          </p>{/each}
        <p class="laps">
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
                <th scope="col" class="number">Lost s</th>
                <th scope="col">Otherwise on the best lap</th>
                <th scope="col">Seen</th>
              </tr>
            </thead>
            <tbody>
              {#each run.corners ?? [] as corner (corner.name)}
                <tr>
                  <th scope="row" class="place">{corner.name}</th>
                  <td class="number figure"
                    >{corner.lost_s === null ? '' : timeDifference(corner.lost_s, 2)}</td
                  >
                  <td>{corner.said}</td>
                  <td>{corner.seen?.join('; ')}</td>
                </tr>
              {/each}
            </tbody>
          </table>
        {/if}
        {#if run.remarks}<p class="said">{run.remarks}</p>{/if}
        <p class="unit foot">
          {found.cautions.join(' ')}
        </p>
      </article>
    {/each}
  </div>
{:else if book.working}
  <p role="status" class="empty">{book.working}</p>
{/if}

<style>
  .tools {
    display: flex;
    gap: 18px;
    align-items: center;
    padding: 6px 0;
  }
  article {
    border-top: 3px double var(--rule);
    padding: 8px 0 18px;
  }
  h2 {
    font-size: 20px;
  }
  .big {
    font-size: 24px;
  }
  .times,
  .laps {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 20px;
  }
  .said {
    font-family: var(--figures);
    font-size: 15px;
  }
  .number {
    text-align: right;
  }
  .foot {
    padding-top: 4px;
  }
  .empty {
    padding: 24px 0;
    font-size: 15px;
  }
  @media print {
    .tools {
      display: none;
    }
    article {
      break-after: page;
      border-top: 0;
    }
    article:last-of-type {
      break-after: auto;
    }
  }
</style>
