<script lang="ts">
  import type { Circuit, CircuitEdit, EdgeStretch, SurveyReport } from '../api/client'
  import type { View } from '../state/view.svelte'
  import CircuitFigure from './CircuitFigure.svelte'
  import type { CircuitEdits } from './edits.svelte'

  /** Kerbs, dust and walls along the edges, by stretch, and what the vehicle may do there. */
  let {
    view,
    circuit,
    survey,
    edits,
  }: {
    view: View
    circuit: Circuit
    survey: SurveyReport | null
    edits: CircuitEdits
  } = $props()

  const units = $derived(view.units)
  const edges = $derived(circuit.edges ?? [])
  const lengths = $derived(survey?.lengths_m ?? [])
  const total = $derived(lengths.reduce((sum, one) => sum + one, 0))
  /** A new stretch lies along the chosen part. */
  const here = $derived.by(() => {
    const from = lengths.slice(0, view.segment).reduce((sum, one) => sum + one, 0)
    return { from, to: Math.min(from + (lengths[view.segment] ?? 50), total) }
  })
  const inner = $derived.by(() => {
    const segment = circuit.segments?.[view.segment]
    return segment?.kind === 'corner' ? segment.direction : 'left'
  })

  function put(kind: EdgeStretch['kind']): void {
    const side = kind === 'dust' ? (inner === 'left' ? 'right' : 'left') : inner
    const edge: EdgeStretch = {
      side,
      kind,
      from_m: here.from,
      to_m: here.to,
      width_m: kind === 'kerb' ? 1 : 1.5,
      use: 'take',
      grip_factor: 0.85,
      distance_m: 0.5,
    }
    void edits.make({ op: 'put_edge', edge })
  }
  const changed = (number: number, change: Partial<EdgeStretch>): CircuitEdit => ({
    op: 'set_edge',
    number,
    edge: { ...(edges[number] as EdgeStretch), ...change },
  })
  const WORDS = { kerb: 'Kerb', dust: 'Dust', wall: 'Wall' }
</script>

<div class="px-0 pt-0.75 pb-1.5 gap-x-3.25 gap-y-0.5 flex flex-wrap items-baseline">
  <span class="unit"
    >Along <span class="place">{survey?.names[view.segment] ?? 'this part'}</span></span
  >
  <button class="link" onclick={() => put('kerb')}>Add kerb inside</button>
  <button class="link" onclick={() => put('dust')}>Add dust outside</button>
  <button class="link" onclick={() => put('wall')}>Add wall inside</button>
</div>
{#if circuit.segments_describe !== 'road'}
  <p class="unit px-0 py-2 text-[14px]">
    The radii are driven radii. Edges count only if they are the middle of the road (Circuit
    settings).
  </p>
{/if}
{#if edges.length === 0}
  <p class="unit px-0 py-2 text-[14px]">
    No kerbs, dust or walls: the whole width of the road is available.
  </p>
{:else}
  <table class="ruled" data-testid="edges">
    <thead>
      <tr>
        <th scope="col">What</th>
        <th scope="col">Side</th>
        <th scope="col" class="number">From <span class="unit">{units.lengthUnit}</span></th>
        <th scope="col" class="number">To <span class="unit">{units.lengthUnit}</span></th>
        <th scope="col" class="number">Width <span class="unit">{units.lengthUnit}</span></th>
        <th scope="col">Allows</th>
        <th><span class="sr-only">Remove</span></th>
      </tr>
    </thead>
    <tbody>
      {#each edges as edge, number (number)}
        {@const word = `${WORDS[edge.kind]} ${number + 1}`}
        <tr>
          <td class="figure">{WORDS[edge.kind]}</td>
          <td>
            <select
              class="bg-transparent"
              aria-label="Side of {word}"
              value={edge.side}
              onchange={(event) =>
                void edits.make(
                  changed(number, { side: event.currentTarget.value as EdgeStretch['side'] }),
                )}
            >
              <option value="left">left</option>
              <option value="right">right</option>
            </select>
          </td>
          {#each ['from_m', 'to_m'] as const as end (end)}
            <td class="number"
              ><CircuitFigure
                {view}
                {edits}
                name="edge:{number}:{end}"
                label="{word} {end === 'from_m' ? 'from' : 'to'} ({units.lengthUnit})"
                kept={edge[end]}
                quantity="length"
                decimals={0}
                step={5}
                fine={1}
                edit={(value) => changed(number, { [end]: value })}
              /></td
            >
          {/each}
          <td class="number">
            {#if edge.kind !== 'wall'}
              <CircuitFigure
                {view}
                {edits}
                name="edge:{number}:width"
                label="Width of {word} ({units.lengthUnit})"
                kept={edge.width_m ?? 1}
                quantity="length"
                decimals={1}
                step={0.2}
                fine={0.1}
                edit={(value) => changed(number, { width_m: value })}
              />
            {/if}
          </td>
          <td>
            {#if edge.kind === 'kerb'}
              <select
                class="bg-transparent"
                aria-label="Use of {word}"
                value={edge.use}
                onchange={(event) =>
                  void edits.make(
                    changed(number, { use: event.currentTarget.value as EdgeStretch['use'] }),
                  )}
              >
                <option value="take">use it</option>
                <option value="straddle">straddle it</option>
                <option value="keep_off">keep off</option>
              </select>
            {:else if edge.kind === 'dust'}
              <CircuitFigure
                {view}
                {edits}
                name="edge:{number}:grip"
                label="Grip on {word}"
                kept={edge.grip_factor ?? 1}
                decimals={2}
                step={0.05}
                fine={0.01}
                edit={(value) => changed(number, { grip_factor: value })}
              /> <span class="unit">of the grip</span>
            {:else}
              <CircuitFigure
                {view}
                {edits}
                name="edge:{number}:distance"
                label="Distance from {word} ({units.lengthUnit})"
                kept={edge.distance_m ?? 0}
                quantity="length"
                decimals={1}
                step={0.1}
                fine={0.05}
                edit={(value) => changed(number, { distance_m: value })}
              /> <span class="unit">{units.lengthUnit} kept from it</span>
            {/if}
          </td>
          <td
            ><button
              class="link ember"
              aria-label="Remove {word}"
              onclick={() => void edits.make({ op: 'remove_edge', number })}>Remove</button
            ></td
          >
        </tr>
      {/each}
    </tbody>
  </table>
{/if}

<style>
  th,
  td {
    padding: 3px 12px 3px 0;
  }
</style>
