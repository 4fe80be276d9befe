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
  <div class="modal-box leaf" class:wide>
    {#if open}
      <header>
        <h2 id="{id}-title" class="figure">{title}</h2>
        <button class="btn btn-sm btn-outline" onclick={dismiss}
          >Close <kbd class="kbd kbd-sm">Esc</kbd></button
        >
      </header>
      {@render children()}
    {/if}
  </div>
  <div class="modal-backdrop">
    <button tabindex="-1" aria-label="Close" class="backdrop" onclick={dismiss}></button>
  </div>
</dialog>

<style>
  .leaf {
    background: var(--leaf);
    border: 1px solid var(--ink);
    max-width: 620px;
    max-height: 88vh;
    padding: 16px 20px;
  }
  .wide {
    max-width: 1080px;
    width: 94vw;
  }
  header {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    gap: 14px;
    margin-bottom: 10px;
    border-bottom: 3px double var(--ink);
    padding-bottom: 8px;
  }
  h2 {
    font-size: 22px;
    line-height: 1.1;
  }
  .backdrop {
    opacity: 0;
  }
</style>
