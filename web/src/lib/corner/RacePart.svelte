<script lang="ts">
  import type { Corner, Racing } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import Figure from '../parts/Figure.svelte'
  import { timeDifference, whole } from '../parts/format'

  /** The same corner in a race: with race fuel, on worn tyres, close behind another vehicle. */
  let {
    bench,
    view,
    corner,
    number,
    racing,
  }: {
    bench: Workbench
    view: View
    corner: Corner
    number: number
    racing: Racing | null
  } = $props()

  const units = $derived(view.units)
  const rows = $derived(bench.figures.of('race').filter((row) => row.group === 'State'))
  const valueOf = (field: string): number =>
    Number((racing as unknown as Record<string, unknown> | null)?.[field] ?? 0)
  let refused = $state<{ field: string; message: string } | null>(null)
  let waiting: { field: string; value: number } | null = null

  async function settle(): Promise<void> {
    const one = waiting
    waiting = null
    const race = bench.open?.plan.race
    if (!one || !race) return
    const message = await bench.editPlan({ race: { ...race, [one.field]: one.value } })
    refused = message === null ? null : { field: one.field, message }
  }
</script>

{#if racing}
  <div
    class="race gap-x-8 gap-y-0 grid grid-cols-[minmax(0,1fr)_minmax(0,2fr)] narrow:grid-cols-[1fr]"
  >
    <section aria-label="The race">
      <h3 class="figure text-[16px]">The race</h3>
      <dl>
        {#each rows as one (one.name)}
          <div class="border-t border-t-hair flex justify-between text-[14px]">
            <dt>{one.label}</dt>
            <dd>
              <Figure
                label="{one.label} ({units.unitFor(one)})"
                value={units.show(valueOf(one.field), one.quantity)}
                {...units.fit(one)}
                width="4.4ch"
                size="17px"
                refusal={refused?.field === one.field ? refused.message : null}
                change={(shown) =>
                  (waiting = { field: one.field, value: units.read(shown, one.quantity) })}
                done={() => void settle()}
                refuse={(message) => (refused = { field: one.field, message })}
                forget={() => (refused = null)}
              />
              <span class="unit">{units.unitFor(one)}</span>
            </dd>
          </div>
        {/each}
      </dl>
      <p class="unit pt-1.5">
        Close behind another car car, downforce is lost in the corners and drag on the straights.
        The plan’s own figures stay as they are.
      </p>
    </section>
    <table class="ruled self-start">
      <thead>
        <tr>
          <th>{corner.name}</th><th>Braking point</th><th>Gear</th>
          <th>Minimum, {units.speedUnit}</th><th>Against the plan</th><th>Whole lap</th>
        </tr>
      </thead>
      <tbody>
        <tr class="now">
          <th scope="row">as planned</th>
          <td>{bench.words?.corners[number]?.action ?? ''}</td>
          <td class="figure">{corner.gear}</td>
          <td class="figure text-[19px]">{whole(units.speed(corner.min_speed_ms))}</td>
          <td></td><td></td>
        </tr>
        {#each racing.states as state (state.state)}
          {@const here = state.corners?.[number]}
          <tr>
            <th scope="row">{state.label}</th>
            {#if here && state.lap_s !== null}
              <td>{here.braking_said}</td>
              <td class="figure">{here.gear}</td>
              <td class="figure text-[19px]">{whole(units.speed(here.min_speed_ms))}</td>
              <td>{here.speed_said}</td>
              <td class="figure">{timeDifference(state.lap_s)}</td>
            {:else}<td colspan="5" class="unit">no lap is possible</td>{/if}
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
{:else}<p class="unit pt-1.5">Calculating the race…</p>{/if}
