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
  let nav = $state<HTMLElement>()
  // On a phone the views scroll sideways; the one that is shown is in sight.
  $effect(() => {
    void here?.page
    const link = nav?.querySelector<HTMLElement>('[aria-current="page"]')
    if (nav && link) nav.scrollLeft = link.offsetLeft - nav.offsetLeft - 60
  })
</script>

<header
  class="double-below flex items-stretch h-11.5 narrow:py-1 narrow:gap-x-0 narrow:gap-y-0.5 narrow:h-auto narrow:flex-wrap"
>
  <h1 class="pr-3 flex-none flex items-center">
    <svg width="34" height="26" viewBox="0 0 34 26" aria-hidden="true">
      <g fill="none" stroke="var(--ink)" stroke-width="2">
        <path d="M1 15c5-6 10-6 16 0s11 6 16 0" />
        <path d="M1 22c5-5 10-5 16 0s11 5 16 0" stroke="var(--cool)" />
        <path d="M17 1v8M13.500 3l7 4M20.500 3l-7 4" stroke-width="1.500" />
      </g>
    </svg>
    <span class="sr-only">Neapfrost</span>
  </h1>
  <nav
    class="flex items-stretch narrow:flex-[1_0_70%] narrow:overflow-x-auto"
    aria-label="Views"
    bind:this={nav}
  >
    {#each STAGES as stage (stage[0].page)}
      <ul class="mt-2 flex items-stretch narrow:mt-0">
        {#each stage as { page, label } (page)}
          <li class="flex">
            {#if here}
              <a
                class="px-2.75 py-0 flex items-center text-[15px] font-semibold whitespace-nowrap narrow:px-2 narrow:py-1"
                href={addressOf({ ...here, page })}
                aria-current={here.page === page ? 'page' : undefined}>{label}</a
              >
            {:else}
              <span
                class="px-2.75 py-0 flex items-center text-[15px] font-semibold whitespace-nowrap text-coast narrow:px-2 narrow:py-1"
                >{label}</span
              >
            {/if}
          </li>
        {/each}
      </ul>
    {/each}
  </nav>
  {#if bench.open}
    <button
      class="plan px-4.5 py-0 gap-2 flex items-baseline self-center min-w-0 cursor-pointer whitespace-nowrap narrow:px-0 narrow:py-1 narrow:flex-[1_1_35%] narrow:text-left"
      onclick={() => (view.sheet = 'plan')}
    >
      <span class="unit narrow:sr-only">Plan</span>
      <span class="figure overflow-hidden text-[18px] text-ellipsis" data-testid="plan-name"
        >{bench.open.name}</span
      >
      <Chevron />
      <span class="unit state" class:calm={bench.kept && !bench.saving} aria-live="polite"
        >{bench.saving ? 'saving…' : bench.kept ? 'saved' : 'not saved yet'}</span
      >
    </button>
  {/if}
  <div
    class="tools ml-auto gap-4 flex-none flex items-stretch text-[14px] font-medium narrow:gap-x-2.5"
  >
    {#if bench.open}
      <button
        class="cursor-pointer"
        disabled={!bench.open.undo}
        title={bench.open.undo ?? 'Nothing to undo'}
        onclick={() => void bench.undo()}>Undo</button
      >
      <button
        class="cursor-pointer"
        disabled={!bench.open.redo}
        title={bench.open.redo ?? 'Nothing to redo'}
        onclick={() => void bench.redo()}>Redo</button
      >
      <button class="cursor-pointer" onclick={() => (view.sheet = 'history')}>History</button>
    {/if}
    <ShowAs {view} />
  </div>
</header>

<style>
  /* A thin rule parts the stages of the work. */
  ul + ul {
    margin-left: 5px;
    padding-left: 5px;
    border-left: 1px solid var(--rule);
  }
  a:hover {
    background: var(--wash);
  }
  a[aria-current='page'] {
    background: var(--ink);
    color: var(--paper);
  }
  .plan:hover .figure {
    text-decoration: underline;
  }
  @media (max-width: 900px) {
    .calm {
      display: none;
    }
  }
  .tools > button:disabled {
    color: var(--coast);
    cursor: default;
  }
</style>
