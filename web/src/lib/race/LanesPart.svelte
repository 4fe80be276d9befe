<script lang="ts">
  import { untrack } from 'svelte'
  import type { Result } from '../api/client'
  import { lapTime, plain, timeDifference, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import StudyHead from '../trade/StudyHead.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import LanesCurve from './LanesCurve.svelte'
  import LanesMap from './LanesMap.svelte'

  /** A banked circuit's lanes, and lines that change them: a lap, a long run, where to lift and how. */
  let {
    bench,
    view,
    studies,
    result,
    width,
  }: { bench: Workbench; view: View; studies: Studies; result: Result; width: number } = $props()

  let laps = $state(25)
  let wanted = $state('')
  const stated = $derived(bench.open?.plan.circuit.lanes ?? [])
  const lanes = $derived(studies.jobs.lanes?.lanes ?? null)
  const units = $derived(view.units)
  /** The line that is drawn heavy: the quickest until another is chosen. */
  const chosen = $derived(
    lanes?.lines.find((line) => line.name === wanted)?.name ?? lanes?.lines[0]?.name ?? '',
  )
  const MAP = 400
  const beside = $derived(width > 2 * MAP ? width - MAP - 24 : width)

  $effect(() => {
    const mark = `${studies.raceMark}|${laps}`
    const there = stated.length > 0
    untrack(() => {
      if (!there || studies.along.lanes === mark) return
      studies.along.lanes = mark
      void studies.lanes(laps)
    })
  })
  function asked(field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    if (value === null || value < 2 || value > 500) field.value = String(laps)
    else laps = Math.round(value)
  }
</script>

{#if stated.length === 0}
  <p class="px-0 py-6 text-[15px] max-w-160">
    This circuit has no lanes. Add them in the Circuit view under Circuit settings: each with its
    offset from the stated radius, its extra bank, and its grip.
  </p>
{:else}
  <StudyHead
    {studies}
    kind="lanes"
    again={() => void studies.lanes(laps)}
    said={lanes?.said}
    testid="lanes-said"
    files={[]}
  >
    <label
      >A run of <input
        class="dotted-below w-11.5 font-figures text-[15px] font-semibold bg-transparent text-right"
        inputmode="numeric"
        aria-label="Laps of the run"
        value={laps}
        onchange={(event) => asked(event.currentTarget)}
      /> <span class="unit">laps on one set</span></label
    >
  </StudyHead>
  {#if lanes}
    {#if lanes.lines.length > 0}
      <div class="gap-6 pb-2 flex flex-wrap">
        <LanesMap
          {lanes}
          {chosen}
          {result}
          {view}
          northDeg={bench.open?.plan.circuit.north_deg ?? 0}
          width={Math.min(MAP, width)}
          height={Math.min(MAP, width) * 0.95}
        />
        <div>
          <LanesCurve {lanes} {chosen} {result} over="lap" width={beside} />
          <LanesCurve {lanes} {chosen} {result} over="run" width={beside} />
        </div>
      </div>
    {/if}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Lanes">
      <table class="ruled" data-testid="lanes-table">
        <thead>
          <tr>
            <th scope="col">Line</th><th scope="col" class="number">First lap</th>
            <th scope="col" class="number">Last lap</th>
            <th scope="col" class="number">Run time difference s</th>
            <th scope="col" class="number">Degradation % a lap</th>
            <th scope="col" class="number">Work on the front %</th>
            <th scope="col" class="number">on the right %</th>
            {#each lanes.corners as name (name)}<th
                scope="col"
                class="number"
                title="Lift before the corner, on the first and on the last lap"
                >{name}: lift {units.lengthUnit}</th
              >{/each}
          </tr>
        </thead>
        <tbody>
          {#each lanes.lines as line, n (line.name)}
            {@const first = line.points[0]}
            {@const last = line.points.at(-1)}
            <tr class:now={line.name === chosen}>
              <th scope="row"
                ><button
                  class="cursor-pointer"
                  aria-pressed={line.name === chosen}
                  onclick={() => (wanted = line.name)}>{line.name}</button
                ></th
              >
              <td class="figure number">{lapTime(first?.time_s ?? 0)}</td>
              <td class="figure number">{lapTime(last?.time_s ?? 0)}</td>
              <td class="figure number"
                >{n === 0 ? 'best' : timeDifference(line.run_behind_s, 1)}</td
              >
              <td class="number">{plain(line.fade_pct, 2)}</td>
              <td class="number">{plain(line.front_pct, 0)}</td>
              <td class="number">{plain(line.right_pct, 0)}</td>
              {#each lanes.corners as name, corner (name)}
                {@const early = first?.lift_to_corner_m[corner]}
                {@const late = last?.lift_to_corner_m[corner]}
                <td class="number"
                  >{early === null || early === undefined ? 'flat' : plain(units.length(early), 0)}, {late ===
                    null || late === undefined
                    ? 'flat'
                    : plain(units.length(late), 0)}</td
                >
              {/each}
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
    {#if lanes.lifts.length > 0}
      <h2 class="figure pt-2.5 text-[17px]">Ways to slow for the corners on the plan’s line</h2>
      <table class="ruled max-w-130" data-testid="lift-ways">
        <tbody>
          {#each lanes.lifts as way (way.way)}
            <tr
              ><th scope="row">{way.way}</th><td class="figure number"
                >{way.lap_s === null ? 'no lap' : lapTime(way.lap_s)}</td
              ><td class="figure number"
                >{way.behind_s === null ? '' : timeDifference(way.behind_s)}</td
              ></tr
            >
          {/each}
        </tbody>
      </table>
    {/if}
  {/if}
{/if}
