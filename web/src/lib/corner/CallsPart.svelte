<script lang="ts">
  import type { Corner, CornerCalls } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { whole } from '../parts/format'
  import EffortPlot from './EffortPlot.svelte'
  import Price from './Price.svelte'

  /** Every call of the corner with its alternatives, each driven as a lap and priced. */
  let {
    bench,
    view,
    corner,
    number,
    calls,
    trouble,
  }: {
    bench: Workbench
    view: View
    corner: Corner
    number: number
    calls: CornerCalls | null
    trouble: string
  } = $props()

  const units = $derived(view.units)
  const SCHOOLS: Record<string, string> = {
    lower: 'lower gear',
    higher: 'higher gear',
    quickest: 'quickest',
    planned: 'as planned',
    straight: 'in a straight line',
    trail: 'trailed into the corner',
    gentle: 'gently and early',
  }
  let refused = $state('')
  const order = $derived(
    bench.open?.plan.corners?.find((one) => one.name === corner.name && one.corner === number),
  )

  async function take(
    field: 'gear' | 'entry_exponent' | 'braking',
    value: number | null,
  ): Promise<void> {
    refused =
      (await bench.editPlan({ order: { corner: number, name: corner.name, field, value } })) ?? ''
  }
  async function takeSchool(value: string): Promise<void> {
    const school = (['fastest', 'lower', 'higher'] as const).find((one) => one === value)
    if (school) refused = (await bench.editPlan({ gear_school: school })) ?? ''
  }
</script>

{#if trouble}<p role="alert" class="trouble">{trouble}</p>{/if}
{#if refused}<p role="alert" class="trouble">{refused}</p>{/if}
{#if calls}
  <div
    class="calls gap-x-7 gap-y-0 grid grid-cols-[minmax(0,1fr)_minmax(0,1.15fr)] narrow:grid-cols-[1fr]"
  >
    <section class="narrow:overflow-x-auto" aria-label="Gear in the corner">
      <h3 class="figure pt-0.5 text-[16px]">Gear in the corner</h3>
      {#if calls.gear}
        <table class="ruled">
          <thead
            ><tr
              ><th>Gear</th><th>rpm</th><th>Lap</th><th
                >Downshifts, {units.lengthUnit} to minimum</th
              ><th><span class="sr-only">Use</span></th></tr
            ></thead
          >
          <tbody>
            {#each calls.gear.options as option (option.gear)}
              <tr class:now={option.gear === calls.gear.planned}>
                <th scope="row" class="figure">{option.gear}</th>
                <td class="figure">{whole(option.rpm)}</td>
                <td
                  >{#if option.reached}<Price seconds={option.cost_s} />{:else}<span class="unit"
                      >not reached in time</span
                    >{/if}</td
                >
                <td>
                  {#each option.downshifts as shift (shift.to_gear)}<span
                      class="mr-2 whitespace-nowrap"
                      ><b class="figure">{shift.to_gear}</b>
                      {whole(units.length(shift.before_slowest_m))}</span
                    >{:else}<span class="unit">{option.reached ? 'none' : ''}</span>{/each}
                  <span class="place text-[14px]"
                    >{option.schools.map((one) => SCHOOLS[one] ?? one).join(', ')}</span
                  >
                </td>
                <td class="text-right">
                  {#if order?.gear === option.gear}
                    <button class="link" onclick={() => void take('gear', null)}
                      >Clear<span class="sr-only"> of gear {option.gear}</span></button
                    >
                  {:else if option.reached && option.gear !== calls.gear.planned}
                    <button class="link" onclick={() => void take('gear', option.gear)}
                      >Use<span class="sr-only"> gear {option.gear}</span></button
                    >
                  {/if}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
        <p>{calls.gear.reason}</p>
      {:else}<p class="unit">
          The throttle is not closed here: the gear stays, {corner.gear}.
        </p>{/if}
      <label class="unit"
        >Whole lap <select
          class="bg-leaf text-ink"
          aria-label="Gears in corners on the whole lap"
          value={bench.open?.plan.driver?.gear_school ?? 'fastest'}
          onchange={(event) => void takeSchool(event.currentTarget.value)}
        >
          <option value="fastest">the quickest gear</option>
          <option value="lower">the lower gear</option>
          <option value="higher">the higher gear</option>
        </select></label
      >
      <h3 class="figure pt-0.5 text-[16px]">Hold or shift after the corner</h3>
      {#if calls.hold}
        <table class="ruled">
          <thead
            ><tr
              ><th>Up to</th><th>Upshifts</th><th>On the limiter</th><th
                >Lift at, {units.speedUnit}</th
              ><th>Lap</th></tr
            ></thead
          >
          <tbody>
            {#each calls.hold.options as option (option.top_gear)}
              <tr class:now={option.top_gear === calls.hold.planned_top}>
                <th scope="row" class="figure">{option.top_gear}</th>
                <td class="figure">{option.upshifts}</td>
                <td>{option.limiter_s < 0.005 ? '' : `${option.limiter_s.toFixed(2)} s`}</td>
                <td class="figure">{whole(units.speed(option.lift_speed_ms))}</td>
                <td><Price seconds={option.cost_s} /></td>
              </tr>
            {/each}
          </tbody>
        </table>
        <p>{calls.hold.reason}</p>
      {:else}<p class="unit">No shift to choose before the next lift.</p>{/if}
    </section>
    <section class="narrow:overflow-x-auto" aria-label="Braking">
      <h3 class="figure pt-0.5 text-[16px]">Braking</h3>
      {#if calls.braking}
        <table class="ruled">
          <thead
            ><tr
              ><th>Style</th><th>Start</th><th>Distance, {units.lengthUnit}</th><th
                >Pedal, mean and peak</th
              ><th>At turn-in</th><th>Lap</th><th><span class="sr-only">Use</span></th></tr
            ></thead
          >
          <tbody>
            {#each calls.braking.options as option (option.school)}
              <tr class:now={option.school === 'planned'}>
                <th scope="row">{SCHOOLS[option.school] ?? option.school}</th>
                <td
                  >{Math.abs(option.earlier_m) < 0.5
                    ? 'same'
                    : `${whole(units.length(Math.abs(option.earlier_m)))} ${option.earlier_m > 0 ? 'earlier' : 'later'}`}</td
                >
                <td class="figure">{whole(units.length(option.braking_distance_m))}</td>
                <td class="figure"
                  >{whole(option.mean_effort_pct)} %, {whole(option.peak_effort_pct)} %</td
                >
                <td class="figure"
                  >{option.turn_in_effort_pct === null
                    ? option.turn_in_m < 0
                      ? 'begins later'
                      : 'off'
                    : `${whole(option.turn_in_effort_pct)} %`}</td
                >
                <td
                  >{#if option.school === 'planned'}<span class="unit">the plan</span>{:else}<Price
                      seconds={option.cost_s}
                    />{/if}</td
                >
                <td class="text-right">
                  {#if option.order}
                    {@const asked = option.order}
                    {#if order?.[asked.field] === asked.value}
                      <button class="link" onclick={() => void take(asked.field, null)}
                        >Clear<span class="sr-only">
                          of braking {SCHOOLS[option.school]}</span
                        ></button
                      >
                    {:else}
                      <button class="link" onclick={() => void take(asked.field, asked.value)}
                        >Use<span class="sr-only"> braking {SCHOOLS[option.school]}</span></button
                      >
                    {/if}
                  {/if}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
        <EffortPlot braking={calls.braking} {view} schools={SCHOOLS} width={520} height={88} />
        <p>
          {calls.braking.shape}
          {calls.braking.limiting_axle === 'none'
            ? 'The brakes are the limit; no axle reaches its grip.'
            : `The ${calls.braking.limiting_axle} axle reaches its limit first.`}
          {calls.braking.road ? `${calls.braking.road}.` : ''}
        </p>
      {:else}<p class="unit">No braking here.</p>{/if}
      <h3 class="figure pt-0.5 text-[16px]">Flat, lift or brake</h3>
      <p>{calls.flat.reason}</p>
      {#if calls.flat.thresholds.length > 0}
        <ul class="gap-x-4 gap-y-0 flex flex-wrap text-[14px]" aria-label="Where it changes">
          {#each calls.flat.thresholds as one (one.figure + one.value)}
            <li>
              <span class="unit">{one.figure === 'tailwind' ? 'wind' : one.figure}</span>
              {one.said}
            </li>
          {/each}
        </ul>
      {/if}
    </section>
  </div>
{:else if !trouble}<p class="unit">Calculating the alternatives…</p>{/if}

<style>
  p {
    font-size: 14px;
    line-height: 1.25;
    padding: 2px 0 4px;
  }
</style>
