<script lang="ts">
  import type { Workbench } from '../state/workbench.svelte'

  /** A write that met another one: what changed, and the two ways on. Nothing is overwritten unseen. */
  let { bench }: { bench: Workbench } = $props()

  let dialog: HTMLDialogElement
  $effect(() => {
    if (bench.standoff && !dialog.open) dialog.showModal()
    else if (!bench.standoff && dialog.open) dialog.close()
  })

  async function force(): Promise<void> {
    const retry = bench.standoff?.retry
    bench.standoff = null
    if (retry === 'undo') await bench.undo(true)
    if (retry === 'redo') await bench.redo(true)
  }
</script>

<!-- Esc would leave the change neither kept nor dropped, so a choice is asked for. -->
<dialog
  bind:this={dialog}
  class="modal"
  aria-labelledby="standoff-title"
  oncancel={(event) => event.preventDefault()}
>
  <div class="modal-box leaf">
    {#if bench.standoff}
      {@const standoff = bench.standoff}
      <h2 id="standoff-title" class="figure">Changed elsewhere meanwhile</h2>
      <p>{standoff.sentence}</p>
      <ul>
        {#each standoff.conflict.changes as change (change)}<li>{change}</li>{/each}
      </ul>
      {#if standoff.conflict.reason === 'stale'}
        <p>Your own change is not kept yet.</p>
        <div class="row">
          <button class="btn btn-sm btn-primary" onclick={() => void bench.merge()}
            >Keep both: mine on top</button
          >
          <button class="btn btn-sm btn-outline" onclick={() => void bench.reload()}
            >Drop mine and reload</button
          >
        </div>
      {:else}
        <div class="row">
          <button class="btn btn-sm btn-primary" onclick={() => void bench.reload()}
            >Leave it as it is</button
          >
          <button class="btn btn-sm btn-outline" onclick={() => void force()}
            >{standoff.retry === 'redo' ? 'Redo' : 'Undo'} all the same</button
          >
        </div>
      {/if}
    {/if}
  </div>
</dialog>

<style>
  .leaf {
    background: var(--leaf);
    border: 1px solid var(--ink);
    max-width: 560px;
  }
  h2 {
    font-size: 22px;
    border-bottom: 3px double var(--ink);
    padding-bottom: 6px;
    margin-bottom: 8px;
  }
  p {
    font-size: 14px;
  }
  ul {
    list-style: square inside;
    margin: 8px 0;
    font-size: 14px;
  }
  .row {
    display: flex;
    gap: 10px;
    margin-top: 12px;
  }
</style>
