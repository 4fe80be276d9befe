<script lang="ts">
  import type { Circuit } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { CircuitEdits } from './edits.svelte'

  /** What is to be remembered of each corner: kerb, track limit, run-off, where to look. */
  let { view, circuit, edits }: { view: View; circuit: Circuit; edits: CircuitEdits } = $props()

  const corners = $derived(
    (circuit.segments ?? []).flatMap((segment, index) =>
      segment.kind === 'corner' ? [{ segment, index }] : [],
    ),
  )
</script>

<table class="ruled" data-testid="notes">
  <tbody>
    {#each corners as corner, number (corner.index)}
      <tr class:chosen={view.segment === corner.index}>
        <th class="pl-1 pr-3 py-1 whitespace-nowrap w-[1%]" scope="row"
          ><button class="cursor-pointer" onclick={() => (view.segment = corner.index)}
            ><span class="figure">{number + 1}</span>
            <span class="place">{corner.segment.name}</span></button
          ></th
        >
        <td class="pl-1 pr-3 py-1"
          ><input
            class="dotted-below w-full bg-transparent"
            aria-label="Note on {corner.segment.name}"
            maxlength="500"
            placeholder="kerb, track limit, run-off, where to look"
            value={corner.segment.note ?? ''}
            onchange={(event) =>
              void edits.make({
                op: 'note',
                segment: corner.index,
                note: event.currentTarget.value.trim(),
              })}
          /></td
        >
      </tr>
    {/each}
  </tbody>
</table>

<style>
  .chosen {
    background: var(--wash);
  }
  input::placeholder {
    color: var(--ink-2);
  }
</style>
