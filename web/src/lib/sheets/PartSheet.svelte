<script lang="ts">
  import { untrack } from 'svelte'
  import { answer, client, type ListedRevision, type PartKind } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { moment } from '../parts/format'
  import FigureTable from './FigureTable.svelte'
  import Finder from './Finder.svelte'
  import NameField from './NameField.svelte'

  /** The plan’s car, circuit or conditions: its name and figures, its revisions, and the others. */
  let { bench, view, kind }: { bench: Workbench; view: View; kind: PartKind } = $props()

  const part = $derived(bench.open?.[kind] ?? null)
  const noun = $derived(kind === 'conditions' ? 'conditions' : kind)
  let revisions = $state.raw<ListedRevision[]>([])

  $effect(() => {
    const id = part?.id
    void part?.newest
    untrack(async () => {
      if (id === undefined) return
      const { data } = await answer(
        client.GET('/api/library/{kind}/{item_id}/revisions', {
          params: { path: { kind, item_id: id } },
        }),
      )
      revisions = data ?? []
    })
  })

  const pin = (number: number | null): void => void bench.choose({ pins: { [kind]: number } })
</script>

{#if part}
  <NameField
    label="Name of the {noun} in this plan"
    value={part.name}
    save={(name) => void bench.choose({ rename: { [kind]: name } })}
  />
  <p class="unit mx-0 mt-1 mb-2.5 leading-[1.3]">
    {#if part.also_in.length > 0}
      Also used by {part.also_in.join(', ')}: changes here apply there too, unless that plan pins a
      revision.
    {:else}
      Used only by this plan.
    {/if}
  </p>
  {#if kind !== 'circuit'}
    <FigureTable {bench} {view} owner={kind} />
  {:else}
    <p class="mx-0 mt-1 mb-2.5 leading-[1.3]">
      <label class="gap-1.5 flex items-center font-medium">
        <input
          type="checkbox"
          class="checkbox checkbox-xs"
          checked={view.holdStraights}
          onchange={(event) => view.hold(event.currentTarget.checked)}
        />
        Keep straight lengths when a radius changes
      </label>
      <span class="unit"
        >If not, the corner’s tangent points move along its straights. Boards, references and sector
        lines keep their places either way.</span
      >
    </p>
  {/if}

  <h3 class="figure mt-2.5 text-[18px]">Revisions</h3>
  <p class="unit">
    {#if part.pinned}
      This plan is pinned at revision {part.revision}; unpin it to change its figures here.
      <button class="link" onclick={() => pin(null)}>Follow the newest</button>
    {:else}
      This plan follows the newest revision.
    {/if}
  </p>
  <ol class="mt-1 border-b border-b-rule max-h-[20vh] overflow-y-auto">
    {#each revisions as revision (revision.number)}
      <li
        class="px-1.5 py-0.5 gap-3 border-t border-t-hair flex items-baseline"
        class:chosen={revision.number === part.revision}
      >
        <span class="figure">{revision.number}</span>
        <span class="flex-1 min-w-0">{revision.remark}</span>
        <span class="unit">{moment(revision.made_at)}</span>
        <button
          class="link"
          disabled={part.pinned && revision.number === part.revision}
          onclick={() => pin(revision.number)}
          >Pin<span class="sr-only"> revision {revision.number}</span></button
        >
      </li>
    {/each}
  </ol>

  <h3 class="figure mt-2.5 text-[18px]">All {kind === 'conditions' ? 'conditions' : `${kind}s`}</h3>
  <Finder
    {bench}
    {view}
    {kind}
    chosen={part.id}
    action="Use"
    choose={(item) => void bench.choose({ [`${kind}_id`]: item.id })}
  />
{/if}

<style>
  .chosen {
    background: var(--wash);
  }
</style>
