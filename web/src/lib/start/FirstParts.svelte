<script lang="ts">
  import type { Units } from '../parts/units'
  import type { FirstEntry } from './firstEntry.svelte'
  import FirstFigure from './FirstFigure.svelte'

  /** The circuit as read off a map, part by part in the order it is driven. */
  let { entry, units }: { entry: FirstEntry; units: Units } = $props()
</script>

<FirstFigure label="Name" bind:value={entry.circuit.name} />
<div class="mx-0 my-2.5 gap-x-4.5 gap-y-2 flex flex-wrap">
  <label class="gap-1.5 flex items-center"
    ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={entry.circuit.closed} /> A closed
    circuit (if not, a point-to-point course from a standing start)</label
  >
  <label class="gap-1.5 flex items-center"
    ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={entry.circuit.boards} />
    Boards at 150, 100 and 50 {units.lengthUnit} where the straight is long enough</label
  >
</div>
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div class="overflow-x-auto" role="region" tabindex="0" aria-label="Parts of the circuit">
  <table class="w-full">
    <thead>
      <tr
        ><th scope="col">Part</th><th scope="col">Name</th><th scope="col"
          >Length, {units.lengthUnit}</th
        ><th scope="col">Driven radius, {units.lengthUnit}</th><th scope="col">Angle, °</th><th
          ><span class="sr-only">Remove</span></th
        ></tr
      >
    </thead>
    <tbody>
      {#each entry.rows as row, index (index)}
        <tr>
          <td>
            <select class="figure" aria-label="Kind of part {index + 1}" bind:value={row.turn}>
              <option value="straight">straight</option>
              <option value="left">left</option>
              <option value="right">right</option>
            </select>
          </td>
          <td>
            {#if row.turn !== 'straight'}
              <input
                class="figure"
                aria-label="Name of corner, part {index + 1}"
                placeholder="T{entry.rows.slice(0, index + 1).filter((r) => r.turn !== 'straight')
                  .length}"
                bind:value={row.name}
              />
            {/if}
          </td>
          <td>
            {#if row.turn === 'straight'}
              <input
                class="figure short"
                inputmode="decimal"
                required
                aria-label="Length of part {index + 1}"
                bind:value={row.length}
              />
            {/if}
          </td>
          <td>
            {#if row.turn !== 'straight'}
              <input
                class="figure short"
                inputmode="decimal"
                required
                aria-label="Radius of part {index + 1}"
                bind:value={row.radius}
              />
            {/if}
          </td>
          <td>
            {#if row.turn !== 'straight'}
              <input
                class="figure short"
                inputmode="decimal"
                required
                aria-label="Angle of part {index + 1}"
                bind:value={row.angle}
              />
            {/if}
          </td>
          <td>
            <button
              type="button"
              class="link"
              aria-label="Remove part {index + 1}"
              disabled={entry.rows.length === 1}
              onclick={() => entry.rows.splice(index, 1)}>Remove</button
            >
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
</div>
<div class="mx-0 my-2.5 gap-x-4.5 gap-y-2 flex flex-wrap">
  <button type="button" class="link" onclick={() => entry.addRow('straight')}>Add a straight</button
  >
  <button type="button" class="link" onclick={() => entry.addRow('left')}>Add a left</button>
  <button type="button" class="link" onclick={() => entry.addRow('right')}>Add a right</button>
</div>

<style>
  input.figure,
  select.figure {
    background: none;
    border: 0;
    border-bottom: 1px dotted var(--ink-2);
    font-size: 19px;
    width: 14ch;
    padding: 1px 0;
  }
  input.short {
    width: 7ch;
  }
  select.figure {
    width: auto;
    background: var(--paper);
    color: var(--ink);
  }
  th {
    text-align: left;
    font-weight: 500;
    color: var(--ink-2);
    font-size: 13px;
  }
  td,
  th {
    border-bottom: 1px solid var(--hair);
    padding: 3px 10px 3px 0;
  }
  @media (max-width: 560px) {
    td,
    th {
      padding-right: 4px;
    }
    input.figure,
    select.figure {
      font-size: 16px;
      width: 6ch;
    }
    input.short {
      width: 5ch;
    }
    select.figure {
      width: auto;
    }
  }
</style>
