<script lang="ts" generics="T extends string">
  import type { Snippet } from 'svelte'

  /** The parts of a view or a sheet, of which one is shown in the panel of id `{id}-panel`. */
  let {
    id,
    label,
    tabs,
    chosen,
    choose,
    beside,
  }: {
    id: string
    label: string
    tabs: readonly { tab: T; label: string }[]
    chosen: T
    choose: (tab: T) => void
    beside?: Snippet
  } = $props()

  let list = $state<HTMLElement>()
  /** Where the tabs scroll sideways, the chosen one is in sight. */
  function reveal(): void {
    const tab = list?.querySelector<HTMLElement>('[aria-selected="true"]')
    if (list && tab && list.scrollWidth > list.clientWidth)
      list.scrollLeft = tab.offsetLeft - list.offsetLeft - 24
  }
  $effect(() => {
    void chosen
    reveal()
  })
</script>

<div class="tabs gap-x-4.5 gap-y-0.5 border-b border-b-rule flex flex-wrap items-baseline min-w-0">
  <div
    class="tabs list gap-x-4.5 gap-y-0.5 border-b-0 flex flex-wrap items-baseline narrow:flex-nowrap narrow:overflow-x-auto narrow:max-w-full"
    role="tablist"
    bind:this={list}
    aria-label={label}
  >
    {#each tabs as one (one.tab)}
      <button
        role="tab"
        class="figure pb-0.5 text-[17px] cursor-pointer text-ink-2 narrow:whitespace-nowrap narrow:flex-none"
        id="{id}-tab-{one.tab}"
        aria-selected={chosen === one.tab}
        aria-controls="{id}-panel"
        onclick={() => choose(one.tab)}>{one.label}</button
      >
    {/each}
  </div>
  {@render beside?.()}
</div>

<svelte:window onresize={() => reveal()} />

<style>
  [aria-selected='true'] {
    color: var(--ink);
    box-shadow: inset 0 -3px 0 var(--ink);
  }
</style>
