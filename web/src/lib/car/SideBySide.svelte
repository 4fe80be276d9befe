<script lang="ts">
  import { untrack } from 'svelte'
  import { answer, client, type CarSide, type ListedRevision } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { lapTime, plain, timeDifference } from '../parts/format'
  import type { CarWork } from './work.svelte'

  /** Two revisions or setups of the car: what differs, and what each difference does to the lap. */
  let { bench, work, view }: { bench: Workbench; work: CarWork; view: View } = $props()

  let revisions = $state.raw<ListedRevision[]>([])
  let a = $state.raw<CarSide>({ revision: null, setup: null })
  let b = $state.raw<CarSide>({ revision: null, setup: null })
  let begun = false
  const open = $derived(bench.open)
  const setups = $derived((open?.plan.car.setups ?? []).map((setup) => setup.name))
  const found = $derived(work.comparison)

  $effect(() => {
    const now = open
    if (!now) return
    untrack(async () => {
      const own = now.plan.setup ?? null
      const other = setups.find((name) => name !== own) ?? null
      if (!begun) {
        a = { revision: null, setup: own }
        b = { revision: null, setup: other ?? own }
      }
      const { data } = await answer(
        client.GET('/api/library/{kind}/{item_id}/revisions', {
          params: { path: { kind: 'car', item_id: now.car.id } },
        }),
      )
      revisions = data ?? []
      // Without another setup the revision before is what one would look at.
      if (!begun && other === null) b = { ...b, revision: revisions[1]?.number ?? null }
      begun = true
      await work.compare(a, b)
    })
  })
  function change(side: 'a' | 'b', to: Partial<CarSide>): void {
    begun = true
    if (side === 'a') a = { ...a, ...to }
    else b = { ...b, ...to }
    void work.compare(a, b)
  }
  const query = $derived(
    Object.entries({
      a_revision: a.revision,
      a_setup: a.setup,
      b_revision: b.revision,
      b_setup: b.setup,
    })
      .filter(([, value]) => value !== null && value !== undefined)
      .map(([key, value]) => `${key}=${encodeURIComponent(String(value))}`)
      .join('&'),
  )
  const most = $derived(
    Math.max(0.01, ...(found?.effects ?? []).map((e) => Math.abs(e.lap_s ?? 0))),
  )
  const corners = $derived(found?.comparison.corners ?? null)
</script>

<div class="pt-2 gap-x-10 gap-y-2 flex flex-wrap text-[14px]">
  {#each [{ side: 'a', given: a, say: 'From' }, { side: 'b', given: b, say: 'To' }] as const as one (one.side)}
    <fieldset class="gap-3 flex items-baseline">
      <legend class="figure">{one.say}</legend>
      <label
        >Setup <select
          class="bg-paper max-w-75"
          aria-label="{one.say}: setup"
          value={one.given.setup ?? ''}
          onchange={(event) => change(one.side, { setup: event.currentTarget.value || null })}
        >
          <option value="">none</option>
          {#each setups as name (name)}<option value={name}>{name}</option>{/each}
        </select></label
      >
      <label
        >Revision <select
          class="bg-paper max-w-75"
          aria-label="{one.say}: revision"
          value={one.given.revision ?? ''}
          onchange={(event) =>
            change(one.side, {
              revision: event.currentTarget.value ? Number(event.currentTarget.value) : null,
            })}
        >
          <option value="">newest</option>
          {#each revisions as revision (revision.number)}
            <option value={revision.number}>{revision.number}: {revision.remark}</option>
          {/each}
        </select></label
      >
    </fieldset>
  {/each}
</div>
{#if work.trouble}<p role="alert" class="trouble">{work.trouble}</p>{/if}
{#if found}
  <p class="lap px-0 py-2 text-[15px]">
    <span class="figure text-[22px]">{lapTime(found.a_lap_s)}</span> to
    <span class="figure text-[22px]">{lapTime(found.b_lap_s)}</span>:
    <span class="figure text-[22px]" data-testid="together">{timeDifference(found.together_s)}</span
    >
    s on
    <span class="place">{open?.circuit.name}</span>
    <a class="link ml-2.5" href="/api/plans/{open?.id}/car/comparison.csv?{query}" download>CSV</a>
    <a class="link ml-2.5" href="/api/plans/{open?.id}/car/comparison.md?{query}" download
      >Markdown</a
    >
  </p>
  <div class="columns gap-9 flex flex-wrap">
    <div>
      <h2 class="figure px-0 pt-1 pb-0.5 text-[18px]">Each change on its own</h2>
      {#if found.effects.length === 0}
        <p class="unit">Nothing that affects the lap differs.</p>
      {:else}
        <table class="ruled w-auto" data-testid="effects">
          <tbody>
            {#each found.effects as effect (effect.group)}
              <tr>
                <th scope="row">{effect.group}</th>
                <td class="number figure"
                  >{effect.lap_s === null ? 'no lap' : timeDifference(effect.lap_s)}</td
                >
                <td
                  ><svg width="150" height="12" aria-hidden="true"
                    ><path d="M75 0V12" stroke="var(--rule)" /><path
                      d="M75 6h{(72 * (effect.lap_s ?? 0)) / most}"
                      stroke="var(--ink)"
                      stroke-width="5"
                    /></svg
                  ></td
                >
              </tr>
            {/each}
            <tr>
              <th scope="row">All together</th>
              <td class="number figure">{timeDifference(found.together_s)}</td>
              <td></td>
            </tr>
          </tbody>
        </table>
      {/if}
      {#if corners}
        <h2 class="figure px-0 pt-1 pb-0.5 text-[18px]">Corner by corner</h2>
        <table class="ruled w-auto" data-testid="corner-effects">
          <thead>
            <tr>
              <th scope="col">Corner</th>
              <th scope="col" class="number">Time s</th>
              <th scope="col" class="number">Minimum {view.units.speedUnit}</th>
              <th scope="col" class="number">Exit {view.units.speedUnit}</th>
              <th scope="col" class="number">Brakes {view.units.lengthUnit}</th>
            </tr>
          </thead>
          <tbody>
            {#each corners as corner, index (index)}
              <tr>
                <td class="place">{bench.result?.corners[index]?.name ?? index + 1}</td>
                <td class="number figure">{timeDifference(corner.time_s)}</td>
                <td class="number figure"
                  >{timeDifference(view.units.speed(corner.min_speed_ms), 1)}</td
                >
                <td class="number figure"
                  >{timeDifference(view.units.speed(corner.exit_speed_ms), 1)}</td
                >
                <td class="number figure"
                  >{corner.braking_earlier_m === null
                    ? '–'
                    : `${plain(view.units.length(Math.abs(corner.braking_earlier_m)), 1)} ${corner.braking_earlier_m > 0 ? 'earlier' : 'later'}`}</td
                >
              </tr>
            {/each}
          </tbody>
        </table>
      {/if}
    </div>
    <div class="differs flex-1 min-w-80 max-w-155">
      <h2 class="figure px-0 pt-1 pb-0.5 text-[18px]">What differs</h2>
      <table class="ruled w-full" data-testid="differences">
        <thead>
          <tr>
            <th scope="col">Figure</th>
            <th scope="col">{found.a_name}</th>
            <th scope="col">{found.b_name}</th>
          </tr>
        </thead>
        <tbody>
          {#each found.differences as one, index (index)}
            <tr>
              <th scope="row"
                >{one.place}{#if !one.computed}&nbsp;<span class="unit">(not modelled)</span
                  >{/if}</th
              >
              <td class="figure">{one.a}</td>
              <td class="figure">{one.b}</td>
            </tr>
          {:else}
            <tr><td colspan="3" class="unit">Both are the same.</td></tr>
          {/each}
        </tbody>
      </table>
    </div>
  </div>
{/if}

<style>
  legend {
    float: left;
    font-size: 18px;
    padding-right: 12px;
  }
  .lap,
  .differs th,
  .differs td {
    overflow-wrap: anywhere;
  }
  th,
  td {
    padding: 1px 14px 1px 0;
  }
  td.figure {
    font-size: 16px;
  }
</style>
