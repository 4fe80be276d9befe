<script lang="ts">
  import { untrack } from 'svelte'
  import { answer, client, sentence, type Kind, type Listed } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { lapTime, plain, whole } from '../parts/format'

  /**
   * Everything of a kind that is kept: searched, chosen, copied, deleted, brought back. A deleted
   * item is only put aside.
   */
  let {
    bench,
    view,
    kind,
    chosen,
    choose,
    action,
    keeping = true,
  }: {
    bench: Workbench
    view: View
    kind: Kind
    chosen: number | null
    choose: (item: Listed) => void
    /** What choosing does, for the button’s name. */
    action: string
    /** Whether items are copied, deleted and brought back here as well, or only chosen. */
    keeping?: boolean
  } = $props()

  let search = $state('')
  let deleted = $state(false)
  let items = $state.raw<Listed[] | null>(null)
  let trouble = $state('')
  let asked = 0

  const plural = $derived(
    { plan: 'plans', car: 'cars', circuit: 'circuits', conditions: 'conditions' }[kind],
  )

  async function load(): Promise<void> {
    const ticket = ++asked
    const { data, error } = await answer(
      client.GET('/api/library/{kind}', {
        params: { path: { kind }, query: { search, deleted } },
      }),
    )
    if (ticket !== asked) return
    trouble = data ? '' : sentence(error)
    if (data) items = data
  }

  $effect(() => {
    void search
    void deleted
    void bench.open
    untrack(() => void load())
  })

  function facts(item: Listed): string {
    const units = view.units
    if (kind === 'car')
      return `${plain(units.show(item.mass_kg ?? 0, 'mass'), 0)} ${units.unitOf('mass')}, ${plain(units.show(item.peak_power_kw ?? 0, 'power'), 0)} ${units.unitOf('power')}${item.vehicle_kind === 'motorcycle' ? ', motorcycle' : ''}`
    if (kind === 'circuit')
      return `${whole(units.length(item.length_m ?? 0))} ${units.lengthUnit}, ${item.corner_count ?? 0} corners${item.closed ? '' : ', point-to-point course'}`
    if (kind === 'conditions')
      return `air ${plain(units.show(item.air_temp_c ?? 0, 'temperature'), 0)} ${units.temperatureUnit}, wind ${plain(units.show(item.wind_speed_ms ?? 0, 'wind'), 1)} ${units.unitOf('wind')}, ${plain(item.wetness_pct ?? 0, 0)} % wet`
    return [item.car, item.circuit, item.conditions].filter(Boolean).join(' · ')
  }

  async function copy(item: Listed, ownParts: boolean): Promise<void> {
    const { data, error } = await answer(
      client.POST('/api/library/{kind}/{item_id}/copy', {
        params: { path: { kind, item_id: item.id }, query: { own_parts: ownParts } },
      }),
    )
    if (data && kind === 'plan') {
      await bench.show(data.id)
      bench.say(`This is the copy of ${item.name}.`)
    } else if (!data) trouble = sentence(error)
    await load()
  }

  async function remove(item: Listed): Promise<void> {
    const { error } = await answer(
      client.DELETE('/api/library/{kind}/{item_id}', {
        params: { path: { kind, item_id: item.id } },
      }),
    )
    if (error) {
      trouble = sentence(error)
      return
    }
    bench.say(`${item.name} was deleted.`, () => restore(item))
    await load()
    if (kind === 'plan' && item.id === bench.open?.id) {
      const next = items?.find((other) => other.id !== item.id)
      if (next) await bench.show(next.id)
    }
  }

  async function restore(item: Listed): Promise<void> {
    const { error } = await answer(
      client.POST('/api/library/{kind}/{item_id}/restore', {
        params: { path: { kind, item_id: item.id } },
      }),
    )
    if (error) trouble = sentence(error)
    else bench.say(`${item.name} was restored.`)
    await load()
  }
</script>

<div class="mb-1.5 gap-3.5 flex items-center">
  <label class="search flex-1">
    <span class="sr-only">Search {plural}</span>
    <input
      type="search"
      class="input input-sm w-full bg-paper"
      placeholder="Search {plural}"
      maxlength="200"
      bind:value={search}
    />
  </label>
  {#if keeping}
    <label class="gap-1.5 flex items-center">
      <input type="checkbox" class="checkbox checkbox-xs" bind:checked={deleted} /> Show deleted
    </label>
  {/if}
</div>
{#if trouble}<p class="trouble" role="alert">{trouble}</p>{/if}
<ul class="border-b border-b-rule max-h-[40vh] overflow-y-auto" aria-label="All {plural}">
  {#each items ?? [] as item (item.id)}
    <li
      class="px-1.5 py-0.75 gap-3 border-t border-t-hair flex items-center"
      class:chosen={item.id === chosen}
    >
      <button
        class="pick flex-1 text-left cursor-pointer flex flex-col leading-[1.2] min-w-0"
        disabled={deleted}
        aria-current={item.id === chosen}
        onclick={() => choose(item)}
      >
        <span class="figure text-[17px]"
          ><span class="sr-only">{action} </span>{item.name || 'No name'}</span
        >
        <span class="unit">{facts(item)}</span>
      </button>
      {#if item.lap_time_s !== null && item.lap_time_s !== undefined}
        <span class="figure lap text-[17px]">{lapTime(item.lap_time_s)}</span>
      {/if}
      {#if keeping}
        <span class="gap-2.5 flex whitespace-nowrap">
          {#if deleted}
            <button class="link" onclick={() => void restore(item)}>Restore</button>
          {:else}
            <button class="link" onclick={() => void copy(item, false)}
              >Copy<span class="sr-only"> {item.name}</span></button
            >
            {#if kind === 'plan'}
              <button
                class="link"
                title="The copy gets its own car, circuit and conditions, so changes there do not affect this plan"
                onclick={() => void copy(item, true)}
                >Copy all<span class="sr-only"> of {item.name}</span></button
              >
              <a class="link" href="/api/plans/{item.id}/document" download="{item.name}.json"
                >File<span class="sr-only"> of {item.name}</span></a
              >
            {/if}
            <button class="link ember px-1.5 py-2.5" onclick={() => void remove(item)}
              >Delete<span class="sr-only"> {item.name}</span></button
            >
          {/if}
        </span>
      {/if}
    </li>
  {:else}
    <li class="unit px-1.5 py-2.5 gap-3 border-t border-t-hair flex items-center">
      {#if items === null}Looking…{:else if deleted}Nothing deleted.{:else}No {plural} with “{search}”
        in the name.{/if}
    </li>
  {/each}
</ul>

<style>
  .chosen {
    background: var(--wash);
  }
  .pick:hover .figure {
    text-decoration: underline;
  }
  @media (max-width: 700px) {
    li {
      flex-wrap: wrap;
    }
  }
</style>
