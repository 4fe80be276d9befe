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
  <div class="modal-box border border-ink bg-leaf max-w-140">
    {#if bench.standoff}
      {@const standoff = bench.standoff}
      <h2 id="standoff-title" class="figure pb-1.5 mb-2 double-below text-[22px]">
        Changed elsewhere
      </h2>
      <p class="text-[14px]">{standoff.sentence}</p>
      <ul class="mx-0 my-2 list-inside list-[square] text-[14px]">
        {#each standoff.conflict.changes as change (change)}<li>{change}</li>{/each}
      </ul>
      {#if standoff.conflict.reason === 'stale'}
        <p class="text-[14px]">Your change is not saved yet.</p>
        <div class="mt-3 gap-2.5 flex">
          <button class="btn btn-sm btn-primary" onclick={() => void bench.merge()}
            >Save both, mine last</button
          >
          <button class="btn btn-sm btn-outline" onclick={() => void bench.reload()}
            >Discard mine and reload</button
          >
        </div>
      {:else}
        <div class="mt-3 gap-2.5 flex">
          <button class="btn btn-sm btn-primary" onclick={() => void bench.reload()}>Cancel</button>
          <button class="btn btn-sm btn-outline" onclick={() => void force()}
            >{standoff.retry === 'redo' ? 'Redo' : 'Undo'} anyway</button
          >
        </div>
      {/if}
    {/if}
  </div>
</dialog>
