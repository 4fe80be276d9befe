<script lang="ts">
  import { untrack } from 'svelte'
  import { answer, client, sentence, type Result, type WindLap } from '../api/client'
  import TrackMap from '../lap/TrackMap.svelte'
  import { lapTime, plain, timeDifference, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import StudyBar from '../trade/StudyBar.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import WindCurve from './WindCurve.svelte'
  import WindRose from './WindRose.svelte'

  /** The wind at each corner: what it does there, turned by hand, and when a flat one is flat no more. */
  let {
    bench,
    view,
    studies,
    result,
  }: { bench: Workbench; view: View; studies: Studies; result: Result } = $props()

  let width = $state(370)
  let room = $state(800)
  let speed = $state(0)
  let from = $state(0)
  let gust = $state(0)
  let lap = $state.raw<WindLap | null>(null)
  let trouble = $state('')
  let takenFor = ''
  let running = false
  let again = false

  const open = $derived(bench.open)
  const air = $derived(open?.plan.conditions)
  const job = $derived(studies.jobs.winds)
  const units = $derived(view.units)
  const differs = $derived(
    air !== undefined &&
      (Math.abs(speed - (air.wind_speed_ms ?? 0)) > 1e-6 ||
        Math.abs(from - (air.wind_from_deg ?? 0)) > 1e-6),
  )
  const wind = (ms: number): string => plain(Math.abs(units.show(ms, 'wind')), 1)
  const heads = (ms: number | null): string => {
    if (ms === null) return ''
    if (Math.abs(units.show(ms, 'wind')) < 0.05) return 'none'
    return `${wind(ms)} ${ms > 0 ? 'ahead' : 'behind'}`
  }
  const sides = (ms: number): string =>
    Math.abs(units.show(ms, 'wind')) < 0.05 ? 'none' : `${wind(ms)} ${ms > 0 ? 'left' : 'right'}`
  const moved = (m: number | null | undefined): string => {
    if (m === null || m === undefined) return ''
    const shown = Math.round(units.length(Math.abs(m)))
    return shown === 0 ? 'no change' : `${shown} ${m > 0 ? 'earlier' : 'later'}`
  }

  /** Where the wind costs and gains most, as shares of the most that it does anywhere. */
  const beside = $derived.by(() => {
    const { at_m = [], lost_s = [] } = lap?.along ?? {}
    const steps = lost_s.slice(1).map((lost, n) => lost - (lost_s[n] ?? 0))
    const most = Math.max(1e-6, ...steps.map(Math.abs))
    return { at_m: at_m.slice(1), value: steps.map((one) => one / most) }
  })

  /** From a lull to a gust: "13 to 26 later", or each with its own word. */
  function between(low: number, high: number): string {
    const near = Math.round(units.length(Math.min(Math.abs(low), Math.abs(high))))
    const far = Math.round(units.length(Math.max(Math.abs(low), Math.abs(high))))
    if (low * high < 0) return `${moved(low)} to ${moved(high)}`
    if (far === 0) return 'no change'
    const span = near === far ? `${far}` : `${near} to ${far}`
    return `${span} ${high > 0 ? 'earlier' : 'later'}`
  }

  // Another plan, or another wind in it, is taken up; a wind turned by hand stays until then.
  $effect(() => {
    const mark = studies.mark
    const now = air
    untrack(() => {
      if (!now || takenFor === mark) return
      takenFor = mark
      speed = now.wind_speed_ms ?? 0
      from = now.wind_from_deg ?? 0
      void ask()
    })
  })

  /** The lap in the wind that is shown; what is turned meanwhile is asked for next. */
  async function ask(): Promise<void> {
    if (running) {
      again = true
      return
    }
    running = true
    do {
      again = false
      const plan = open
      if (!plan) break
      const { data, error } = await answer(
        client.GET('/api/plans/{plan_id}/wind', {
          params: {
            path: { plan_id: plan.id },
            query: { speed_ms: speed, from_deg: from, gust_ms: gust },
          },
        }),
      )
      trouble = data ? '' : sentence(error)
      if (data) lap = data
    } while (again)
    running = false
  }
  function turn(toSpeed: number, toFrom: number): void {
    speed = toSpeed
    from = toFrom
    void ask()
  }
  function typed(field: HTMLInputElement, what: 'speed' | 'from' | 'gust'): void {
    const value = typedNumber(field.value)
    const ms = value === null ? -1 : units.read(value, 'wind')
    if (value === null || value < 0 || (what === 'from' ? value > 360 : ms > 40)) {
      field.value =
        what === 'from'
          ? String(from)
          : plain(units.show(what === 'gust' ? gust : speed, 'wind'), 1)
      return
    }
    if (what === 'from') from = value
    else if (what === 'speed') speed = ms
    else gust = ms
    void ask()
  }
</script>

<div class="page pt-1.5 gap-7.5 flex narrow:flex-col">
  <div class="flex-none w-92.5 narrow:w-full" bind:clientWidth={width}>
    <fieldset class="pb-1 gap-x-3.5 gap-y-0.5 flex flex-wrap text-[14px]">
      <legend class="sr-only">Wind to try</legend>
      <label
        >Wind <input
          class="dotted-below w-12 font-figures text-[17px] font-semibold bg-transparent text-right"
          inputmode="decimal"
          aria-label="Wind speed"
          value={plain(units.show(speed, 'wind'), 1)}
          onchange={(event) => typed(event.currentTarget, 'speed')}
        /> <span class="unit">{units.unitOf('wind')}</span></label
      >
      <label
        >from <input
          class="dotted-below w-12 font-figures text-[17px] font-semibold bg-transparent text-right"
          inputmode="decimal"
          aria-label="Wind from, degrees"
          value={plain(from, 0)}
          onchange={(event) => typed(event.currentTarget, 'from')}
        /><span class="unit">°</span></label
      >
      <label
        >gusts ± <input
          class="dotted-below w-12 font-figures text-[17px] font-semibold bg-transparent text-right"
          inputmode="decimal"
          aria-label="Gusts, either way"
          value={plain(units.show(gust, 'wind'), 1)}
          onchange={(event) => typed(event.currentTarget, 'gust')}
        /> <span class="unit">{units.unitOf('wind')}</span></label
      >
    </fieldset>
    <WindRose
      speedMs={speed}
      fromDeg={from}
      study={job?.winds ?? null}
      {view}
      size={Math.min(230, width)}
      change={turn}
    />
    <p class="px-0 py-1">
      {#if !job}<button class="link" onclick={() => void studies.winds()}
          >Find the wind at which flat corners are no longer flat</button
        >{:else}<StudyBar
          {job}
          stale={studies.stale('winds')}
          again={() => void studies.winds()}
          stop={() => void studies.stop('winds')}
        />{/if}
    </p>
    {#if job?.winds && job.winds.corners.length === 0}<p class="unit">
        No corner of this lap is flat in still air.
      </p>{/if}
    <TrackMap
      {result}
      {view}
      northDeg={open?.plan.circuit.north_deg ?? 0}
      windFromDeg={from}
      windMs={speed}
      closed={open?.plan.circuit.closed ?? true}
      {width}
      height={286}
      {beside}
    />
    <p class="unit">
      Strokes to the outside of the circuit: time lost against still air; heavier, to the inside:
      gained.
    </p>
  </div>
  <div class="flex-1 min-w-0" bind:clientWidth={room}>
    {#if trouble}<p role="alert" class="trouble">{trouble}</p>{/if}
    {#if lap}
      <p class="pb-1.5 text-[16px]" aria-live="polite" data-testid="wind-said">
        <span class="figure text-[22px]">{lapTime(lap.lap_time_s)}</span> in this wind,
        <span class="figure text-[22px]">{timeDifference(lap.lap_time_s - lap.still_lap_s)} s</span>
        against still air{lap.gust_ms > 0
          ? `; ${timeDifference(lap.lull_lap_s - lap.still_lap_s)} in a lull, ${timeDifference(lap.gust_lap_s - lap.still_lap_s)} with gusts on the whole lap`
          : ''}.
        {#if differs}
          <button
            class="link"
            onclick={() =>
              void studies.take([
                { axis: 'wind_speed_ms', value: speed },
                { axis: 'wind_from_deg', value: from },
              ])}>Apply wind to plan</button
          >
          <button
            class="link"
            onclick={() => turn(air?.wind_speed_ms ?? 0, air?.wind_from_deg ?? 0)}
            >Reset to the plan</button
          >
        {/if}
      </p>
      <WindCurve {lap} {result} {view} width={room} />
      <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
      <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Wind at every corner">
        <table class="ruled" data-testid="wind-corners">
          <caption class="sr-only"
            >The wind at each corner, and what it moves against still air</caption
          >
          <thead>
            <tr>
              <th scope="col">Corner</th>
              <th scope="col">Braking point</th>
              <th scope="col">In the corner</th>
              <th scope="col">Across, from</th>
              <th scope="col">At the exit</th>
              <th scope="col">Brakes, {units.lengthUnit}</th>
              <th scope="col" class="number">Minimum {units.speedUnit}</th>
              <th scope="col" class="number">Exit {units.speedUnit}</th>
              {#if lap.gust_ms > 0}<th scope="col">Lull to gust</th><th scope="col" class="number"
                  >{units.speedUnit}</th
                >{/if}
            </tr>
          </thead>
          <tbody>
            {#each lap.corners as corner, number (number)}
              <tr class:now={view.corner === number}>
                <th scope="row"
                  ><button class="cursor-pointer" onclick={() => view.select(result, number)}
                    ><span class="figure">{number + 1}</span>
                    <span class="place">{corner.name}</span></button
                  ></th
                >
                <td>{heads(corner.braking_head_ms)}</td>
                <td>{heads(corner.corner_head_ms)}</td>
                <td>{sides(corner.corner_left_ms)}</td>
                <td>{heads(corner.exit_head_ms)}</td>
                <td class="wraps"
                  >{corner.action === corner.still_action
                    ? moved(corner.braking_earlier_m)
                    : `${corner.action}; in still air ${corner.still_action}`}</td
                >
                <td class="number figure text-[16px]"
                  >{timeDifference(units.speed(corner.min_speed_ms), 1)}</td
                >
                <td class="number figure text-[16px]"
                  >{timeDifference(units.speed(corner.exit_speed_ms), 1)}</td
                >
                {#if lap.gust_ms > 0}<td
                    >{corner.gust_earlier_m
                      ? between(corner.gust_earlier_m.low, corner.gust_earlier_m.high)
                      : ''}</td
                  ><td class="number"
                    >{timeDifference(units.speed(corner.gust_speed_ms.low), 1)} to {timeDifference(
                      units.speed(corner.gust_speed_ms.high),
                      1,
                    )}</td
                  >{/if}
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
      <p class="unit">
        A headwind adds drag and downforce, a tailwind takes both away; crosswind is shown but not
        modelled. A gust is assumed to last the whole lap.
      </p>
    {:else if !trouble}<p class="unit px-0 py-10">Calculating laps in the wind…</p>{/if}
  </div>
</div>

<style>
  th,
  td {
    padding: 2px 9px 2px 0;
    white-space: nowrap;
  }
  .wraps {
    white-space: normal;
    max-width: 104px;
  }
</style>
