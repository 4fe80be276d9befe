<script lang="ts">
  import { untrack } from 'svelte'
  import { lapTime, plain, timeDifference } from '../parts/format'
  import LookAt from '../parts/LookAt.svelte'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import StudyHead from '../trade/StudyHead.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import SessionRoll from './SessionRoll.svelte'
  import type { Weather } from './weather.svelte'

  /** The session as a strip of time: a lap every few minutes, and the minute where a call flips. */
  let {
    bench,
    view,
    studies,
    weather,
  }: { bench: Workbench; view: View; studies: Studies; weather: Weather } = $props()

  let width = $state(860)
  let looked = $state(-1)
  let chosen = $state<number | null>(null)
  const record = $derived(weather.record)
  const job = $derived(studies.jobs.session)
  const session = $derived(job?.session ?? null)
  const points = $derived(session?.points ?? [])
  /** At first the last measured moment: that is now. */
  const usual = $derived(Math.max(points.filter((point) => point.measured).length - 1, 0))
  const at = $derived(looked < 0 ? usual : Math.min(looked, points.length - 1))
  const point = $derived(points[at])
  const units = $derived(view.units)
  const weathers = $derived(record?.weathers ?? [])
  const usualWeather = $derived(weathers.findIndex((one) => one.name === session?.weather))
  const present = $derived(session?.present)
  const wind = (ms: number): string => plain(units.show(ms, 'wind'), 1)
  const heat = (celsius: number): string => plain(units.show(celsius, 'temperature'), 0)

  // A record that is chosen or changed is driven along at once, once for each state of it.
  $effect(() => {
    // What is said of the laps is said in the units of the page.
    const mark = `${studies.mark}|${weather.mark}|${view.system}`
    untrack(() => {
      if (weather.mark === '' || studies.along.session === mark) return
      studies.along.session = mark
      looked = -1
      void studies.session(chosen)
    })
  })

  function choose(number: number | null): void {
    chosen = number
    void studies.session(number)
  }
  async function take(): Promise<void> {
    if (!point || !record || !bench.open) return
    const refused = await bench.takeConditions(
      point.conditions,
      `${point.at.slice(11, 16)}, ${record.name}`,
    )
    if (refused) bench.say(refused)
  }
</script>

<StudyHead
  {studies}
  kind="session"
  again={() => void studies.session(chosen)}
  said={session?.said}
  testid="session-said"
>
  <span
    >Along <span class="place">{record?.name ?? ''}</span>{#if record?.simulated}<span class="unit"
        >, simulated</span
      >{/if}</span
  >
  {#if weathers.length > 0}
    <label class="pl-2.5"
      >then <select
        class="text-[15px] font-semibold bg-paper"
        aria-label="Forecast"
        value={String(chosen ?? usualWeather)}
        onchange={(event) => choose(Number(event.currentTarget.value))}
      >
        {#each weathers as one, number (one.name)}
          <option value={String(number)}>{one.name}, {plain(one.chance_pct ?? 0, 0)} %</option>
        {/each}
      </select></label
    >
  {/if}
</StudyHead>
{#if session && point}
  <div class="columns gap-5.5 flex narrow:flex-col">
    <div class="flex-1 min-w-0" bind:clientWidth={width}>
      <SessionRoll
        {session}
        {view}
        {width}
        height={Math.max(400, Math.min(450, width * 0.54))}
        {at}
        choose={(index) => (looked = index)}
      />
      <div class="pl-0 pr-24 py-0 narrow:p-0">
        <LookAt
          label="Look at a moment"
          most={points.length - 1}
          {at}
          text="{point.at.slice(11, 16)}, {point.figures
            ? lapTime(point.figures.lap_time_s)
            : 'not calculated'}"
          choose={(index) => (looked = index)}
        />
      </div>
      {#if session.marks.length > 0}
        <details class="text-[14px]">
          <summary class="cursor-pointer">All {session.marks.length} changes in time order</summary>
          <ul class="pt-1 [columns:2]" data-testid="session-marks">
            {#each session.marks as mark (`${mark.at}/${mark.corner}/${mark.what}`)}<li>
                {mark.said}
              </li>{/each}
          </ul>
        </details>
      {/if}
    </div>
    <div class="flex-none w-82.5 narrow:w-full" data-testid="session-point">
      <p class="where">
        <span class="figure pr-2 text-[22px]">{point.at.slice(11, 16)}</span>
        <span class="unit"
          >{point.measured ? 'measured' : `forecast, ${session.weather ?? ''}`}</span
        >
      </p>
      {#if point.figures && present}
        <p class="lap">
          <span class="figure pr-1.5 text-[27px]">{lapTime(point.figures.lap_time_s)}</span>
          <span class="figure pr-0 text-[19px]"
            >{timeDifference(point.figures.lap_time_s - present.lap_time_s)} s</span
          ><span class="unit">&nbsp;against the plan</span>
        </p>
      {:else if point.trouble}<p class="trouble">{point.trouble}</p>{/if}
      <p class="unit">
        Air {heat(point.air_temp_c)}, road {heat(point.track_temp_c)}
        {units.temperatureUnit}; wind {wind(point.wind_speed_ms)}
        {units.unitOf('wind')} from {plain(point.wind_from_deg, 0)}°, gusts {wind(
          point.gust_ms,
        )}{point.rain_mm_h > 0 ? `; rain ${plain(point.rain_mm_h, 1)} mm/h` : ''}; line {plain(
          point.line_pct,
          0,
        )} % wet, off line {plain(point.beside_pct, 0)} %; rubber {plain(
          100 * point.rubber_factor,
          1,
        )} %{point.figures
          ? `; top speed ${plain(units.speed(point.figures.top_speed_ms), 1)} ${units.speedUnit}`
          : ''}
      </p>
      {#if (session.compounds ?? []).length > 0}
        <p>
          {#each session.compounds as name, n (name)}{@const time = point.compounds_s?.[n]}{n > 0
              ? ', '
              : ''}{name}
            <span class="figure">{time === null || time === undefined ? '…' : lapTime(time)}</span
            >{/each}
        </p>
      {/if}
      <button
        class="link print:hidden"
        disabled={studies.stale('session')}
        onclick={() => void take()}>Apply weather to plan</button
      >
      {#if (point.calls ?? []).length > 0}
        <table class="ruled" data-testid="session-calls">
          <caption class="sr-only">Calls at each corner at {point.at.slice(11, 16)}</caption>
          <tbody>
            {#each session.corners as name, corner (corner)}
              <tr class:now={view.corner === corner}>
                <th scope="row"
                  ><button
                    class="cursor-pointer"
                    onclick={() => bench.result && view.select(bench.result, corner)}
                    ><span class="figure">{corner + 1}</span>
                    <span class="place">{name}</span></button
                  ></th
                >
                <td>{point.calls?.[corner] ?? ''}</td>
                <td class="figure number text-right"
                  >{plain(units.speed(point.figures?.corners[corner]?.min_speed_ms ?? 0), 0)}</td
                >
              </tr>
            {/each}
          </tbody>
        </table>
      {/if}
    </div>
  </div>
  <p class="unit pt-0.5">
    Ten-minute means. A call counts as changed after ten minutes; a braking point once it has moved
    by {plain(units.length(session.threshold_m), 0)}
    {units.lengthUnit}. Water and rubber are assumptions: see Readings and track state.
  </p>
{:else if job?.state === 'running'}
  <p class="unit px-0 py-10">Calculating the session…</p>
{/if}
