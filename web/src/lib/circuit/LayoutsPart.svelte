<script lang="ts">
  import { answer, client, sentence } from '../api/client'
  import type { Workbench } from '../state/workbench.svelte'

  /** The layouts of the venue: gone to, and another one begun. */
  let { bench }: { bench: Workbench } = $props()

  const open = $derived(bench.open)
  const circuit = $derived(open?.plan.circuit ?? null)
  const layouts = $derived(open?.layouts ?? [])
  let naming = $state(false)
  let name = $state('')
  let refusal = $state('')

  /** How many parts of this layout another one has as well. */
  function shared(stretches: string[]): number {
    return (circuit?.segments ?? []).filter(
      (segment) => segment.stretch && stretches.includes(segment.stretch),
    ).length
  }
  async function make(): Promise<void> {
    if (!open) return
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/layouts', {
        params: { path: { plan_id: open.id } },
        body: { base: open.revisions, name },
      }),
    )
    if (!data) {
      refusal = sentence(error)
      return
    }
    naming = false
    const made = name
    name = ''
    await bench.show(data.plan_id)
    bench.say(`${made}: a layout that shares the whole road until you change it.`)
  }
</script>

<section class="px-1 py-2.5 text-[14px]" aria-label="Layouts of the venue">
  <h2 class="figure text-[19px]">
    {circuit?.venue ? `Layouts of ${circuit.venue}` : 'Layouts'}
  </h2>
  {#if layouts.length > 0}
    <ul>
      <li><strong>{circuit?.name}</strong>, this one</li>
      {#each layouts as layout (layout.circuit_id)}
        <li>
          {#if layout.plan_ids[0] !== undefined}
            {@const first = layout.plan_ids[0]}
            <button class="link" onclick={() => void bench.show(first)}>{layout.name}</button>
          {:else}{layout.name}{/if}
          shares <span class="figure">{shared(layout.stretches)}</span> of the
          <span class="figure">{circuit?.segments?.length ?? 0}</span> parts
        </li>
      {/each}
    </ul>
    <p class="unit">
      A shared part (≡) is one piece of road: a change here changes every layout that uses it,
      boards and kerbs included. Separate a part to change it in this layout only.
    </p>
  {:else}
    <p class="unit">
      A venue can have several layouts. A new one starts with this whole road, shared; remove or
      change what differs.
    </p>
  {/if}
  {#if naming}
    <form
      class="pt-1 gap-2 flex"
      onsubmit={(event) => {
        event.preventDefault()
        void make()
      }}
    >
      <!-- svelte-ignore a11y_autofocus -->
      <input
        class="input input-sm bg-paper w-[24ch]"
        aria-label="Name of the new layout"
        maxlength="200"
        autofocus
        bind:value={name}
      />
      <button class="btn btn-sm btn-primary" disabled={name.trim() === ''}>Create</button>
      <button type="button" class="btn btn-sm btn-ghost" onclick={() => (naming = false)}
        >Cancel</button
      >
    </form>
    {#if refusal}<p class="refusal" role="alert">{refusal}</p>{/if}
  {:else}
    <button class="link" onclick={() => (naming = true)}>Add a layout of this venue</button>
  {/if}
</section>
