<script lang="ts">
  import type { View } from '../state/view.svelte'
  import { whole } from '../parts/format'
  import type { Importing } from './importing.svelte'

  /** The corners found in a file: named, split in two, or joined with the next. */
  let { importing, view }: { importing: Importing; view: View } = $props()

  const corners = $derived(importing.preview?.corners ?? [])
  const units = $derived(view.units)
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  class="max-h-47.5 overflow-y-auto max-w-130"
  role="region"
  tabindex="0"
  aria-label="Corners found"
>
  <table class="ruled text-[14px]">
    <thead>
      <tr>
        <th scope="col"><span class="sr-only">Number</span></th>
        <th scope="col">Name</th>
        <th scope="col">Direction</th>
        <th scope="col" class="number text-right"
          >Radius <span class="unit">{units.lengthUnit}</span></th
        >
        <th scope="col"><span class="sr-only">Change</span></th>
      </tr>
    </thead>
    <tbody>
      {#each corners as corner, index (index)}
        {@const next = corners[index + 1]}
        <tr>
          <td class="figure">{index + 1}</td>
          <td>
            <input
              class="dotted-below w-[13ch] bg-transparent"
              aria-label="Name of corner {index + 1}"
              value={corner.name}
              onchange={(event) => {
                const name = event.currentTarget.value.trim()
                if (name) void importing.edit({ op: 'rename', segment: corner.segment, name })
              }}
            />
          </td>
          <td>{corner.direction} <span class="figure">{whole(corner.angle_deg)}°</span></td>
          <td class="number figure text-right">{whole(units.length(corner.radius_m))}</td>
          <td class="acts">
            <button
              class="link mr-2"
              disabled={importing.busy !== ''}
              aria-label="split {corner.name}"
              onclick={() =>
                void importing.edit({ op: 'split', segment: corner.segment, share: 0.5 })}
              >split</button
            >
            {#if next?.direction === corner.direction}
              <button
                class="link mr-2"
                disabled={importing.busy !== ''}
                aria-label="Merge with {next.name}: {corner.name}"
                onclick={() => void importing.edit({ op: 'merge', segment: corner.segment })}
                >Merge with {next.name}</button
              >
            {/if}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
</div>
<p class="unit">
  Both parts of a split corner get the radius that fits the points best.
  {#if importing.edited}
    <button class="link mr-2" onclick={() => void importing.edit({ op: 'renumber' })}
      >Renumber</button
    >
    <button class="link mr-2" onclick={() => void importing.look({})}>Reset</button>
  {/if}
</p>

<style>
  th,
  td {
    padding: 1px 8px 1px 0;
  }
  .acts {
    white-space: nowrap;
    padding-left: 14px;
  }
</style>
