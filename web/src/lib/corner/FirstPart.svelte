<script lang="ts">
  import type { Corner, FirstLaps } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { whole } from '../parts/format'
  import { KNOWN } from '../lap/words'
  import type { Confidence } from './about.svelte'

  /** The build-up at this corner: safely earlier and slower, lap by lap up to the plan. */
  let {
    view,
    corner,
    number,
    first,
    known = $bindable(),
  }: {
    view: View
    corner: Corner
    number: number
    first: FirstLaps | null
    known: Confidence
  } = $props()

  const units = $derived(view.units)
  const steps = $derived(
    (first?.laps ?? []).flatMap((lap, index) => {
      const step = lap.corners[number]
      return step ? [{ lap, step, last: index === (first?.laps.length ?? 0) - 1 }] : []
    }),
  )
</script>

<label class="text-[15px]"
  >The circuit is <select
    class="bg-leaf"
    aria-label="How well the circuit is known"
    bind:value={known}
  >
    {#each KNOWN as one (one.confidence)}<option value={one.confidence}>{one.label}</option>{/each}
  </select></label
>
{#if first}
  <table class="ruled mx-0 my-1" data-testid="corner-first-laps">
    <thead>
      <tr>
        <th>{corner.name}</th><th>Of the grip</th><th>Brake</th><th>Earlier, {units.lengthUnit}</th>
        <th>Minimum, {units.speedUnit}</th><th>Gear</th>
      </tr>
    </thead>
    <tbody>
      {#each steps as { lap, step, last } (lap.number)}
        <tr class:now={last}>
          <th scope="row">{last ? 'the plan' : `lap ${lap.number}`}</th>
          <td class="figure">{whole(lap.grip_share_pct)} %</td>
          <td class="text-ember">{step.said}</td>
          <td class="figure"
            >{step.earlier_m !== null && step.earlier_m >= 0.5
              ? whole(units.length(step.earlier_m))
              : ''}</td
          >
          <td class="figure text-[19px]">{whole(units.speed(step.min_speed_ms))}</td>
          <td class="figure">{step.gear}</td>
        </tr>
      {/each}
    </tbody>
  </table>
  <p class="unit">
    Each lap is calculated with its share of the grip; never later than the plan or the next lap.{steps[0]
      ?.step.widened
      ? ' The hazards noted here add margin.'
      : ' Note a blind crest, a wall or no run-off under Notes to add margin.'}
    <button class="link" onclick={() => (view.sheet = 'first')}>All corners</button>
  </p>
{:else}<p class="unit">Calculating the first laps…</p>{/if}
