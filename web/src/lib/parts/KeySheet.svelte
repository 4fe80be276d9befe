<script lang="ts">
  import type { View } from '../state/view.svelte'

  /** The sheet of keys. */
  let { view }: { view: View } = $props()

  let dialog: HTMLDialogElement
  $effect(() => {
    if (view.keysOpen && !dialog.open) dialog.showModal()
    else if (!view.keysOpen && dialog.open) dialog.close()
  })

  const keys = [
    { keys: ['←', '→'], does: 'move the cursor along the lap (Shift: one metre)' },
    { keys: ['[', ']'], does: 'previous and next corner' },
    { keys: ['1', '…', '9'], does: 'that corner; two digits typed quickly for 10 and more' },
    { keys: ['↑', '↓'], does: 'step the figure being edited (Shift: finer)' },
    { keys: ['Enter'], does: 'take the figure as typed' },
    { keys: ['Esc'], does: 'leave the figure as it was; let go of the corner' },
    { keys: ['R'], does: 'edit the radius of the selected corner' },
    { keys: ['G'], does: 'edit the grip' },
    { keys: ['N'], does: 'day or night' },
    { keys: ['?'], does: 'this sheet' },
  ]
  const glyphs: Record<string, string> = {
    '←': 'M11 5H2M5 1.500L1.500 5L5 8.500',
    '→': 'M1 5h9M7 1.500L10.500 5L7 8.500',
    '↑': 'M6 10V1M2.500 4.500L6 1l3.500 3.500',
    '↓': 'M6 0v9M2.500 5.500L6 9l3.500-3.500',
  }
  const names: Record<string, string> = {
    '←': 'Left arrow',
    '→': 'Right arrow',
    '↑': 'Up arrow',
    '↓': 'Down arrow',
  }
</script>

<dialog
  bind:this={dialog}
  class="modal"
  aria-labelledby="keys-title"
  onclose={() => (view.keysOpen = false)}
>
  <div class="modal-box sheet">
    <h2 id="keys-title" class="figure">Keys</h2>
    <table>
      <tbody>
        {#each keys as entry (entry.does)}
          <tr>
            <td>
              {#each entry.keys as key (key)}
                {#if key === '…'}…{:else}
                  <kbd class="kbd kbd-sm">
                    {#if glyphs[key]}
                      <svg width="12" height="10" role="img" aria-label={names[key]}
                        ><path
                          d={glyphs[key]}
                          fill="none"
                          stroke="currentColor"
                          stroke-width="1.400"
                        /></svg
                      >
                    {:else}{key}{/if}
                  </kbd>
                {/if}
              {/each}
            </td>
            <td>{entry.does}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    <form method="dialog"><button class="btn btn-sm btn-outline">Close</button></form>
  </div>
</dialog>

<style>
  .sheet {
    background: var(--leaf);
    border: 1px solid var(--ink);
  }
  h2 {
    font-size: 22px;
  }
  td {
    padding: 4px 14px 4px 0;
    border-top: 1px solid var(--hair);
    font-size: 14px;
  }
  td:first-child {
    white-space: nowrap;
  }
  form {
    margin-top: 14px;
  }
</style>
