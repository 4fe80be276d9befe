<script lang="ts">
  import { untrack } from 'svelte'
  import { answer, client, sentence, type FirstLaps } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { lapTime, whole } from '../parts/format'
  import { KNOWN } from './words'
  import PartRows from '../sheets/PartRows.svelte'

  /** Laps to begin with: every corner's braking point and minimum speed, step by step. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  let confidence = $state<FirstLaps['confidence']>('new')
  let found = $state.raw<FirstLaps | null>(null)
  let trouble = $state('')
  $effect(() => {
    const [id, asked] = [bench.open?.id, confidence]
    void bench.result
    void view.system
    untrack(async () => {
      if (id === undefined) return
      const { data, error } = await answer(
        client.GET('/api/plans/{plan_id}/first-laps', {
          params: { path: { plan_id: id }, query: { confidence: asked } },
        }),
      )
      if (asked !== confidence) return
      found = data ?? null
      trouble = data ? '' : sentence(error)
    })
  })
  const units = $derived(view.units)
  const laps = $derived(found?.laps ?? [])
  const corners = $derived(laps.at(-1)?.corners ?? [])
</script>

<label class="text-[15px]"
  >The circuit is <select
    class="bg-leaf"
    aria-label="How well the circuit is known"
    bind:value={confidence}
  >
    {#each KNOWN as one (one.confidence)}<option value={one.confidence}>{one.label}</option>{/each}
  </select></label
>
{#if trouble}<p role="alert" class="trouble pt-1.5 max-w-190">{trouble}</p>{/if}
{#if found}
  <!-- A region that scrolls must take the keys. -->
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div
    class="px-0 py-2 overflow-x-auto"
    role="region"
    aria-label="First laps, corner by corner"
    tabindex="0"
  >
    <table class="ruled" data-testid="first-laps">
      <thead>
        <tr>
          <th class="pl-0 pr-4 py-0.75 align-top" scope="col">Corner</th>
          {#each laps as lap, index (lap.number)}
            <th class="pl-0 pr-4 py-0.75 align-top" scope="col">
              <span class="figure block text-[18px]"
                >{index === laps.length - 1 ? 'The plan' : `Lap ${lap.number}`}</span
              >
              <span class="unit block"
                >{whole(lap.grip_share_pct)} % of the grip{lap.tyre_lap
                  ? `, lap ${lap.tyre_lap} on the tyres`
                  : ''}</span
              >
              <span class="unit block">{lapTime(lap.lap_time_s)}</span>
            </th>
          {/each}
        </tr>
      </thead>
      <tbody>
        {#each corners as corner, index (index)}
          <tr>
            <th class="pl-0 pr-4 py-0.75 align-top" scope="row"
              ><span class="number font-semibold">{index + 1}</span>
              <span class="place">{corner.name}</span>{#if laps[0]?.corners[index]?.widened}<span
                  class="unit">&nbsp;caution</span
                >{/if}</th
            >
            {#each laps as lap (lap.number)}
              {@const step = lap.corners[index]}
              {#if step}
                <td class="pl-0 pr-4 py-0.75 align-top">
                  <span class="figure speed text-[20px]"
                    >{whole(units.speed(step.min_speed_ms))}</span
                  >
                  <span class="unit">in {step.gear}</span>
                  <span class="block" class:brake={step.brake_start_to_corner_m !== null}
                    >{step.said}</span
                  >
                  {#if step.earlier_m !== null && step.earlier_m >= 0.5}
                    <span class="unit"
                      >{whole(units.length(step.earlier_m))} {units.lengthUnit} earlier</span
                    >
                  {/if}
                </td>
              {/if}
            {/each}
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  <PartRows {bench} {view} part="first_laps" />
  <p class="unit pt-1.5 max-w-190">
    Minimum speed in {units.speedUnit}, gear, and where to brake. Each lap is calculated with its
    share of the grip and never brakes later or corners faster than the next. Go on only when the
    lap before was easy. Corners noted as blind, walled or without run-off get more margin, marked
    “caution”. Brakes come earlier than planned by these margins at least.
  </p>
  <p class="unit pt-1.5 max-w-190">
    A calculated braking point is the best a model can do, not a promise: the circuit’s rules,
    marshals, flags and licensed instructors come first.
  </p>
{:else if !trouble}
  <p class="unit pt-1.5 max-w-190">Calculating the first laps…</p>
{/if}

<style>
  .brake {
    color: var(--ember);
  }
  td .unit:last-child {
    display: inline;
  }
</style>
