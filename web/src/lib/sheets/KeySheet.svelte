<script lang="ts">
  /** The sheet of keys. */
  const keys = [
    { keys: ['←', '→'], does: 'move the cursor along the lap (Shift: one metre)' },
    { keys: ['[', ']'], does: 'previous and next corner' },
    { keys: ['1', '…', '9'], does: 'that corner; two digits typed quickly for 10 and more' },
    { keys: ['↑', '↓'], does: 'step the figure being edited (Shift: finer)' },
    { keys: ['Enter'], does: 'accept the figure; open the corner sheet (or O)' },
    { keys: ['Esc'], does: 'cancel the edit; close the sheet; deselect the corner' },
    { keys: ['G'], does: 'edit the grip' },
    { keys: ['R'], does: 'edit the radius of the selected corner' },
    { keys: ['Ctrl', 'Z'], does: 'undo; with Shift, or Ctrl Y, redo' },
    { keys: ['B'], does: 'pin this lap as the baseline; again to unpin' },
    { keys: ['C'], does: 'choose what to compare with' },
    { keys: ['H'], does: 'history of the plan, with the value of each step' },
    { keys: ['/'], does: 'find another plan' },
    { keys: ['V'], does: 'next view' },
    { keys: ['+', '−', '0'], does: 'on the road map: zoom in, zoom out, whole lap' },
    { keys: ['M'], does: 'larger map' },
    { keys: ['W'], does: 'the lap in words' },
    { keys: ['F'], does: 'the first laps: steps up to the plan' },
    { keys: ['K'], does: 'the 10 to 90 % bands: show or hide' },
    { keys: ['U'], does: 'km/h and m, mph and ft, mph and yd' },
    { keys: ['N'], does: 'day or night' },
    {
      keys: ['o', 'i', 't', 'v', 's', 'd'],
      does: 'on a lap of the logbook: out, in, traffic, void, slow, timed',
    },
    {
      keys: ['↓', '←', '→', '↑'],
      does: 'in the lap in real time: brake, change down, turn in, throttle',
    },
    { keys: ['Space'], does: 'in the lap in real time: run and stop' },
    { keys: ['P'], does: 'print: the brief in its view, elsewhere the corner table' },
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

<table>
  <tbody>
    {#each keys as entry (entry.does)}
      <tr>
        <td class="pl-0 pr-3.5 py-0.75 border-t border-t-hair text-[14px]">
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
        <td class="pl-0 pr-3.5 py-0.75 border-t border-t-hair text-[14px]">{entry.does}</td>
      </tr>
    {/each}
  </tbody>
</table>

<style>
  td:first-child {
    white-space: nowrap;
  }
</style>
