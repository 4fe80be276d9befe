<script lang="ts">
  import type { Snippet } from 'svelte'

  /** A leaf laid over the page: a modal dialog with a title, closed by Esc or its button. */
  let {
    open,
    title,
    wide = false,
    close,
    children,
  }: {
    open: boolean
    title: string
    wide?: boolean
    close: () => void
    children: Snippet
  } = $props()

  const id = $props.id()
  let dialog: HTMLDialogElement
  $effect(() => {
    if (open && !dialog.open) dialog.showModal()
    else if (!open && dialog.open) dialog.close()
  })

  /**
   * Close now, and let the page know now. The browser tells of a closed dialog only a moment later:
   * whoever opened another sheet in that moment would lose it.
   */
  function dismiss(event: Event): void {
    event.preventDefault()
    // The browser gives the focus back to where it was.
    dialog.close()
    close()
  }
</script>

<dialog bind:this={dialog} class="modal" aria-labelledby="{id}-title" oncancel={dismiss}>
  <div class="modal-box px-5 py-4 border border-ink bg-leaf max-w-155 max-h-[88vh]" class:wide>
    {#if open}
      <header class="pb-2 mb-2.5 gap-3.5 double-below flex justify-between items-baseline">
        <h2 id="{id}-title" class="figure text-[22px] leading-[1.1]">{title}</h2>
        <button class="btn btn-sm btn-outline" onclick={dismiss}
          >Close <kbd class="kbd kbd-sm">Esc</kbd></button
        >
      </header>
      {@render children()}
    {/if}
  </div>
  <div class="modal-backdrop">
    <button tabindex="-1" aria-label="Close" class="opacity-[0]" onclick={dismiss}></button>
  </div>
</dialog>

<style>
  .wide {
    max-width: 1080px;
    width: 94vw;
  }
</style>
