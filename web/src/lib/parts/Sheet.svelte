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
</script>

<dialog bind:this={dialog} class="modal" aria-labelledby="{id}-title" onclose={close}>
  <div class="modal-box leaf" class:wide>
    {#if open}
      <header>
        <h2 id="{id}-title" class="figure">{title}</h2>
        <form method="dialog">
          <button class="btn btn-sm btn-outline">Close <kbd class="kbd kbd-sm">Esc</kbd></button>
        </form>
      </header>
      {@render children()}
    {/if}
  </div>
  <form method="dialog" class="modal-backdrop">
    <button tabindex="-1" aria-label="Close" class="backdrop"></button>
  </form>
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
