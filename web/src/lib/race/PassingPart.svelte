<script lang="ts">
  import { untrack } from 'svelte'
  import { plain, timeDifference } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import StudyHead from '../trade/StudyHead.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import PassingBars from './PassingBars.svelte'
  import PassingCurve from './PassingCurve.svelte'
  import RaceFigures from './RaceFigures.svelte'

  /** Every braking at the end of a straight: what the tow closes, what a pass asks for, what it costs. */
  let { bench, view, studies }: { bench: Workbench; view: View; studies: Studies } = $props()

  let width = $state(800)
  const passing = $derived(studies.jobs.passing?.passing ?? null)
  const units = $derived(view.units)
  const metres = (value: number): string => plain(units.length(value), 0)

  $effect(() => {
    const mark = `${studies.raceMark}|${view.system}`
    untrack(() => {
      if (studies.along.passing === mark) return
      studies.along.passing = mark
      void studies.passing()
    })
  })
</script>

<div class="columns gap-6.5 flex narrow:flex-col">
  <div class="flex-1 min-w-0" bind:clientWidth={width}>
    <StudyHead
      {studies}
      kind="passing"
      again={() => void studies.passing()}
      said={passing?.said}
      testid="passing-said"
      files={[]}
      note="Same car ahead and behind; defend the same places"
    >
      <span>Overtaking places, easiest first</span>
    </StudyHead>
    {#if passing}
      {#if bench.result}
        <PassingCurve {passing} result={bench.result} {units} width={Math.max(width, 320)} />
      {/if}
      <PassingBars
        places={passing.places}
        most_m={bench.open?.plan.race?.later_braking_m ?? 0}
        {units}
      />
      <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
      <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Places to overtake">
        <table class="ruled" data-testid="passing-table">
          <thead>
            <tr>
              <th scope="col">Braking for</th><th scope="col">Out of</th>
              <th scope="col">Inside</th>
              <th scope="col" class="number">Straight {units.lengthUnit}</th>
              <th scope="col" class="number">Gap {units.lengthUnit}, exit to brakes</th>
              <th scope="col" class="number">Quicker {units.speedUnit}</th>
              <th scope="col" class="number">Brake later {units.lengthUnit}</th>
              <th scope="col" class="number">or exit faster by {units.speedUnit}</th>
              <th scope="col" class="number">Inside costs s</th>
              <th scope="col">Overtaking</th>
            </tr>
          </thead>
          <tbody>
            {#each passing.places as place (place.corner)}
              <tr class:now={place.possible}>
                <th scope="row"
                  ><button
                    class="cursor-pointer text-left"
                    onclick={() => bench.result && view.select(bench.result, place.corner)}
                    ><span class="figure">{place.corner + 1}</span>
                    <span class="place">{place.name}</span></button
                  ></th
                >
                <td class="place">{place.after}</td>
                <td>{place.side}</td>
                <td class="number">{metres(place.straight_m)}</td>
                <td class="number">{metres(place.gap_begin_m)} to {metres(place.gap_end_m)}</td>
                <td class="figure number">{plain(units.speed(place.quicker_ms), 1)}</td>
                <td class="figure number">{metres(place.later_needed_m)}</td>
                <td class="figure number"
                  >{place.exit_needed_ms === null
                    ? '–'
                    : plain(units.speed(place.exit_needed_ms), 1)}</td
                >
                <td class="figure number"
                  >{place.inside_s === null ? '–' : plain(place.inside_s, 2)}</td
                >
                <td>{place.possible ? 'possible' : 'not under braking alone'}</td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
      <p class="unit">
        To be alongside at the braking point takes this much later braking, or this much more exit
        speed from the corner before. A gap grows in metres, not seconds, as both cars accelerate.
      </p>
      {#if passing.makers.length > 0}
        <h2 class="figure pt-2.5 text-[17px]">What else would help</h2>
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <div class="overflow-x-auto" role="region" tabindex="0" aria-label="What else helps">
          <table class="ruled" data-testid="makers-table">
            <thead>
              <tr>
                <th scope="col">Braking for</th><th scope="col">The car behind</th>
                <th scope="col" class="number">Later {units.lengthUnit}, now and with it</th>
                <th scope="col" class="number">Lap alone s</th>
                <th scope="col" class="number">Uses MJ</th>
                <th scope="col">Overtaking</th>
              </tr>
            </thead>
            <tbody>
              {#each passing.makers as maker (maker.name + maker.what)}
                <tr class:now={maker.possible}>
                  <th scope="row" class="place">{maker.name}</th>
                  <td>{maker.what}</td>
                  <td class="figure number"
                    >{metres(maker.later_now_m)}, {metres(maker.later_needed_m)}</td
                  >
                  <td class="figure number"
                    >{maker.lap_cost_s === null ? '' : timeDifference(maker.lap_cost_s)}</td
                  >
                  <td class="figure number"
                    >{maker.spent_mj === null ? '' : plain(maker.spent_mj, 2)}</td
                  >
                  <td>{maker.possible ? 'possible' : 'not yet'}</td>
                </tr>
              {/each}
            </tbody>
          </table>
        </div>
      {/if}
    {/if}
  </div>
  <aside class="flex-none w-72.5 narrow:w-full" aria-label="Close behind another car">
    <RaceFigures {bench} {view} groups={['State', 'Overtaking']} />
  </aside>
</div>
