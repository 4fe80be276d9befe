<script lang="ts">
  import Chevron from '../parts/Chevron.svelte'
  import { addressOf, STAGES } from '../state/places'
  import { placeShown } from '../state/travel.svelte'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import ShowAs from './ShowAs.svelte'

  /** The head of the page: the mark, the views in their stages, the plan, undo, and the menu. */
  let { bench, view }: { bench: Workbench; view: View } = $props()
  const here = $derived(placeShown(bench, view))
</script>

<header>
  <h1>
    <svg width="34" height="26" viewBox="0 0 34 26" aria-hidden="true">
      <g fill="none" stroke="var(--ink)" stroke-width="2">
        <path d="M1 15c5-6 10-6 16 0s11 6 16 0" />
        <path d="M1 22c5-5 10-5 16 0s11 5 16 0" stroke="var(--cool)" />
        <path d="M17 1v8M13.500 3l7 4M20.500 3l-7 4" stroke-width="1.500" />
      </g>
    </svg>
    <span class="sr-only">Neapfrost</span>
  </h1>
  <nav aria-label="Views">
    {#each STAGES as stage (stage[0].page)}
      <ul>
        {#each stage as { page, label } (page)}
          <li>
            {#if here}
              <a
                href={addressOf({ ...here, page })}
                aria-current={here.page === page ? 'page' : undefined}>{label}</a
              >
            {:else}
              <span>{label}</span>
            {/if}
          </li>
        {/each}
      </ul>
    {/each}
  </nav>
  {#if bench.open}
    <button class="plan" onclick={() => (view.sheet = 'plan')}>
      <span class="unit">Plan</span>
      <span class="figure" data-testid="plan-name">{bench.open.name}</span>
      <Chevron />
      <span class="unit state" aria-live="polite"
        >{bench.saving ? 'keeping…' : bench.kept ? 'kept' : 'not kept yet'}</span
      >
    </button>
  {/if}
  <div class="tools">
    {#if bench.open}
      <button
        disabled={!bench.open.undo}
        title={bench.open.undo ?? 'Nothing to undo'}
        onclick={() => void bench.undo()}>Undo</button
      >
      <button
        disabled={!bench.open.redo}
        title={bench.open.redo ?? 'Nothing to redo'}
        onclick={() => void bench.redo()}>Redo</button
      >
      <button onclick={() => (view.sheet = 'history')}>History</button>
    {/if}
    <ShowAs {view} />
  </div>
</header>

<style>
  header {
    display: flex;
    align-items: stretch;
    height: 46px;
    border-bottom: 3px double var(--ink);
  }
  h1 {
    display: flex;
    align-items: center;
    padding-right: 12px;
    flex: none;
  }
  nav {
    display: flex;
    align-items: stretch;
  }
  ul {
    display: flex;
    align-items: stretch;
    margin-top: 8px;
  }
  /* A thin rule parts the stages of the work. */
  ul + ul {
    margin-left: 5px;
    padding-left: 5px;
    border-left: 1px solid var(--rule);
  }
  li {
    display: flex;
  }
  a,
  li span {
    display: flex;
    align-items: center;
    padding: 0 11px;
    font-size: 15px;
    font-weight: 600;
    white-space: nowrap;
  }
  li span {
    color: var(--coast);
  }
  a:hover {
    background: var(--wash);
  }
  a[aria-current='page'] {
    background: var(--ink);
    color: var(--paper);
  }
  .plan {
    display: flex;
    gap: 8px;
    align-items: baseline;
    align-self: center;
    padding: 0 18px;
    min-width: 0;
    cursor: pointer;
    white-space: nowrap;
  }
  .plan .figure {
    font-size: 18px;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .plan:hover .figure {
    text-decoration: underline;
  }
  .tools {
    margin-left: auto;
    display: flex;
    align-items: stretch;
    gap: 16px;
    font-size: 14px;
    font-weight: 500;
    flex: none;
  }
  .tools > button {
    cursor: pointer;
  }
  .tools > button:disabled {
    color: var(--coast);
    cursor: default;
  }
  @media (max-width: 900px) {
    header {
      height: auto;
      flex-wrap: wrap;
      gap: 4px 0;
      padding: 6px 0;
    }
    nav,
    ul {
      flex-wrap: wrap;
    }
    ul {
      margin-top: 0;
    }
    a,
    li span {
      padding: 4px 8px;
    }
    .plan {
      padding: 4px 0;
      order: 3;
      width: 100%;
      flex-wrap: wrap;
      white-space: normal;
      text-align: left;
    }
    .tools {
      flex-wrap: wrap;
      gap: 4px 14px;
    }
  }
</style>
