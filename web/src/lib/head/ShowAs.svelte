<script lang="ts">
  import Chevron from '../parts/Chevron.svelte'
  import type { View } from '../state/view.svelte'

  /** The menu of what concerns the page and not the plan: units, day or night, the keys. */
  let { view }: { view: View } = $props()
  const units = $derived(`${view.units.speedUnit}, ${view.units.lengthUnit}`)
  let menu = $state<HTMLElement>()

  function take(choice: () => void): void {
    menu?.hidePopover()
    choice()
  }
</script>

<div class="flex relative">
  <button class="cursor-pointer whitespace-nowrap" popovertarget="show-as"
    ><span class="sr-only">Units, night and keys: </span>{units} <Chevron /></button
  >
  <div id="show-as" class="menu" popover="auto" bind:this={menu}>
    <button
      class="px-3 py-1.25 cursor-pointer whitespace-nowrap flex justify-between items-baseline text-[15px]"
      onclick={() => take(() => (view.sheet = 'units'))}
      ><span>Units</span> <span class="unit">{units}</span></button
    >
    <button
      class="px-3 py-1.25 cursor-pointer whitespace-nowrap flex justify-between items-baseline text-[15px]"
      onclick={() => take(() => view.toggleTheme())}
      ><span>{view.night ? 'Day' : 'Night'}</span> <kbd class="kbd kbd-sm">n</kbd></button
    >
    <button
      class="px-3 py-1.25 cursor-pointer whitespace-nowrap flex justify-between items-baseline text-[15px]"
      onclick={() => take(() => (view.sheet = 'keys'))}
      ><span>Keys</span> <kbd class="kbd kbd-sm">?</kbd></button
    >
  </div>
</div>

<style>
  .menu {
    inset: 47px max(24px, (100vw - 1800px) / 2 + 24px) auto auto;
    position: absolute;
    display: none;
    flex-direction: column;
    align-items: stretch;
    width: 190px;
    padding: 4px 0;
    background: var(--leaf);
    color: var(--ink);
    border: 1px solid var(--ink);
  }
  .menu:popover-open {
    display: flex;
  }
  .menu button:hover {
    background: var(--wash);
  }
  @media (max-width: 900px) {
    .menu {
      right: 14px;
      top: 62px;
    }
  }
</style>
