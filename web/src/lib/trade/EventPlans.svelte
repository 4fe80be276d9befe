<script lang="ts">
  import { untrack } from 'svelte'
  import { answer, client, sentence, type EventSheet, type OtherPlan } from '../api/client'
  import { lapTime, timeDifference, whole } from '../parts/format'
  import Arrow from '../parts/Arrow.svelte'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'

  /** The plans of one circuit side by side: what differs between them, at which corner, and why. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  const BESIDE_MOST = 5
  let offered = $state.raw<OtherPlan[]>([])
  let chosen = $state.raw<number[] | null>(null)
  let found = $state.raw<EventSheet | null>(null)
  let trouble = $state('')
  let asked = 0

  const open = $derived(bench.open)
  /** At first the plans of the same car; without any, two others. */
  const usual = $derived.by(() => {
    const own = offered.filter((one) => one.same_car)
    return (own.length > 0 ? own : offered.slice(0, 2)).slice(0, BESIDE_MOST)
  })
  const beside = $derived(chosen ?? usual.map((one) => one.plan_id))
  const query = $derived([...beside.map((id) => `with=${id}`), `units=${view.system}`].join('&'))

  $effect(() => {
    void open?.revisions
    void view.system
    untrack(() => void load())
  })

  async function load(): Promise<void> {
    const plan = open
    if (!plan) return
    asked += 1
    const mine = asked
    const path = { plan_id: plan.id }
    const known = await answer(client.GET('/api/plans/{plan_id}/beside', { params: { path } }))
    if (mine !== asked) return
    offered = known.data ?? []
    const { data, error } = await answer(
      client.GET('/api/plans/{plan_id}/event', { params: { path, query: { with: beside } } }),
    )
    if (mine !== asked) return
    trouble = data ? '' : sentence(error)
    if (data) found = data
  }
  function turn(id: number, wanted: boolean): void {
    chosen = wanted ? [...beside, id] : beside.filter((one) => one !== id)
    void load()
  }
</script>

<fieldset class="px-0 py-1.5 gap-x-4.5 gap-y-0.5 flex flex-wrap text-[14px]">
  <legend class="sr-only">Plans to compare</legend>
  {#each offered as one (one.plan_id)}
    <label
      ><input
        class="[accent-color:var(--ink)]"
        type="checkbox"
        checked={beside.includes(one.plan_id)}
        disabled={!beside.includes(one.plan_id) && beside.length >= BESIDE_MOST}
        onchange={(event) => turn(one.plan_id, event.currentTarget.checked)}
      />
      {one.name}</label
    >
  {:else}
    <p class="unit">
      There is no other plan on this circuit. Copy this plan (Plans, “/”) and give the copy another
      setup, fuel or conditions.
    </p>
  {/each}
  {#if found && open}
    <span class="ml-auto gap-3 flex">
      <a class="link" href="/api/plans/{open.id}/event.md?{query}" download>Markdown</a>
      <a class="link" href="/api/plans/{open.id}/event.csv?{query}" download>CSV</a>
    </span>
  {/if}
</fieldset>
{#if trouble}<p role="alert" class="trouble">{trouble}</p>{/if}
{#if found}
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Plans of the event">
    <table class="ruled" data-testid="event">
      <caption class="sr-only">Plans on {found.circuit} side by side</caption>
      <thead>
        <tr>
          <th scope="col">{found.circuit}</th>
          {#each found.plans as plan (plan.plan_id)}<th
              scope="col"
              class="name text-[15px] text-ink">{plan.name}</th
            >{/each}
        </tr>
      </thead>
      <tbody>
        <tr>
          <th scope="row">Lap</th>
          {#each found.plans as plan, n (plan.plan_id)}
            <td class="figure lap text-[21px]"
              >{lapTime(plan.lap_time_s)}{#if n > 0}<span class="unit"
                  >&nbsp;{timeDifference(plan.lap_time_s - (found.plans[0]?.lap_time_s ?? 0))}</span
                >{/if}</td
            >
          {/each}
        </tr>
        {#each found.fact_names as name, row (name)}
          <tr>
            <th scope="row">{name}</th>
            {#each found.plans as plan (plan.plan_id)}
              <td class:otherwise={plan.facts[row] !== found.plans[0]?.facts[row]}
                >{plan.facts[row]}</td
              >
            {/each}
          </tr>
        {/each}
        <tr>
          <th scope="row">Why</th>
          <td class="unit">each part on its own in this plan</td>
          {#each found.reasons as one (one.plan_id)}
            <td>
              {#each one.reasons as reason, n (reason.part)}{n > 0 ? '; ' : ''}{reason.part}
                <b>{reason.lap_s === null ? 'no lap' : timeDifference(reason.lap_s)}</b>{/each}{one
                .reasons.length === 0
                ? 'nothing differs'
                : ''}
            </td>
          {/each}
        </tr>
        {#each found.corners as corner, number (number)}
          <tr>
            <th class="whitespace-nowrap" scope="row"
              ><span class="figure">{number + 1}</span>
              <span class="place">{corner.name}</span></th
            >
            {#each corner.calls as call, n (n)}
              <td class:otherwise={call.differs}>
                {#if call.differs}<Arrow label="differs:" />{/if}
                {call.braking}; {call.gear};
                <b>{whole(view.units.speed(call.min_speed_ms))}</b>
                {view.units.speedUnit}
              </td>
            {/each}
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  <p class="unit">An arrow marks a difference from the first plan.</p>
{/if}

<style>
  th,
  td {
    padding: 1px 16px 1px 0;
    min-width: 130px;
    overflow-wrap: anywhere;
  }
  .otherwise {
    font-weight: 650;
  }
</style>
