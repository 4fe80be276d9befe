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
    bench.say(`${made}: a layout that shares all of its road until you change that.`)
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
      A shared part is one road: changed here, it is changed in every layout that has it, with its
      boards and kerbs. In the sheet ≡ marks it; a part made this layout’s own is changed alone.
    </p>
  {:else}
    <p class="unit">
      A venue may have several: another layout begins with all of this road and shares it; take out
      or change what differs.
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
      <button class="btn btn-sm btn-primary" disabled={name.trim() === ''}>Make it</button>
      <button type="button" class="btn btn-sm btn-ghost" onclick={() => (naming = false)}
        >Leave it</button
      >
    </form>
    {#if refusal}<p class="refusal" role="alert">{refusal}</p>{/if}
  {:else}
    <button class="link" onclick={() => (naming = true)}>another layout of this venue</button>
  {/if}
</section>
