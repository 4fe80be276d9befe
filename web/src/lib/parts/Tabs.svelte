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
</script>

<div class="tabs">
  <div class="tabs list" role="tablist" aria-label={label}>
    {#each tabs as one (one.tab)}
      <button
        role="tab"
        class="figure"
        id="{id}-tab-{one.tab}"
        aria-selected={chosen === one.tab}
        aria-controls="{id}-panel"
        onclick={() => choose(one.tab)}>{one.label}</button
      >
    {/each}
  </div>
  {@render beside?.()}
</div>

<style>
  .tabs {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 2px 18px;
    border-bottom: 1px solid var(--rule);
  }
  .list {
    border-bottom: 0;
  }
  button {
    font-size: 17px;
    cursor: pointer;
    color: var(--ink-2);
    padding-bottom: 2px;
  }
  [aria-selected='true'] {
    color: var(--ink);
    box-shadow: inset 0 -3px 0 var(--ink);
  }
</style>
