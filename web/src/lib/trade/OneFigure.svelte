<script lang="ts">
  import { untrack } from 'svelte'
  import { lapTime, plain, timeDifference, typedNumber } from '../parts/format'
  import LookAt from '../parts/LookAt.svelte'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import AxisField from './AxisField.svelte'
  import { readingsOf } from './readings'
  import StretchBars from './StretchBars.svelte'
  import StudyHead from './StudyHead.svelte'
  import type { Range, Studies } from './studies.svelte'
  import SweepPlot from './SweepPlot.svelte'

  /** One figure along its range: the curve, what the answer is, and who pays for whom there. */
  let { bench, view, studies }: { bench: Workbench; view: View; studies: Studies } = $props()

  const FIRST = ['wing_downforce', 'final_drive', 'fuel_kg']
  const VALUES_MOST = 61
  let width = $state(860)
  let range = $state.raw<Range>({ axis: '', low: null, high: null, count: 21 })
  let shown = $state('lap')
  let looked = $state<number | null>(null)
  let rival = $state<number | null>(null)
  let rivalSpeed = $state<number | null>(null)

  const job = $derived(studies.jobs.one)
  const sweep = $derived(job?.sweep ?? null)
  const axis = $derived(studies.axis(view.axis))
  const readings = $derived(sweep ? readingsOf(sweep, view.units) : [])
  const reading = $derived(readings.find((one) => one.key === shown) ?? readings[0])
  const groups = $derived([...new Set(readings.map((one) => one.group))])
  const at = $derived(looked ?? sweep?.best ?? 0)
  const point = $derived(sweep?.points[at])
  const changes = $derived(
    sweep && point?.figures
      ? point.figures.stretches_s.map((time, n) => time - (sweep.present.stretches_s[n] ?? 0))
      : [],
  )

  const LONGEST_STRAIGHTS = 3
  /** The longest straights, with the metres gained on the rival there. */
  const against = $derived(
    (sweep?.stretches ?? [])
      .map((one, index) => ({ ...one, metres: point?.gained_m?.[index] ?? null }))
      .flatMap((one) =>
        one.straight && one.metres !== null ? [{ ...one, metres: one.metres }] : [],
      )
      .sort((a, b) => b.length_m - a.length_m)
      .slice(0, LONGEST_STRAIGHTS),
  )

  // Whatever the address or the list names is driven at once; so is what the plan changes to.
  $effect(() => {
    const known = studies.axes
    const name = view.axis
    untrack(() => {
      if (name && studies.axis(name)) {
        if (range.axis !== name) range = { axis: name, low: null, high: null, count: 21 }
        if (sweep?.axis.name !== name) drive()
        return
      }
      view.axis =
        FIRST.find((one) => known.some((axis) => axis.name === one)) ?? known[0]?.name ?? ''
    })
  })

  function drive(): void {
    looked = null
    void studies.sweep(range, rival, rivalSpeed)
  }
  function change(to: Range): void {
    range = to
    drive()
  }
  function reached(field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    if (field.value.trim() !== '' && (value === null || value <= 0)) {
      field.value = rivalSpeed === null ? '' : plain(view.units.speed(rivalSpeed), 1)
      return
    }
    rivalSpeed = value === null ? null : view.units.read(value, 'speed')
    drive()
  }
  const said = (value: number | string | undefined): string => {
    if (typeof value !== 'number') return value ?? ''
    if (!sweep) return ''
    const { quantity, decimals, unit } = sweep.axis
    return `${plain(view.units.show(value, quantity), decimals)} ${view.units.unitOf(quantity) || unit}`
  }
</script>

<StudyHead
  {studies}
  kind="one"
  again={drive}
  said={sweep?.said}
  testid="sweep-said"
  note={axis?.says}
>
  <AxisField
    label="Vary"
    axes={studies.axes}
    {axis}
    {range}
    most={VALUES_MOST}
    {view}
    choose={(name) => (view.axis = name)}
    {change}
  />
</StudyHead>
{#if sweep && reading}
  <div class="columns gap-7 flex narrow:flex-col">
    <div class="flex-1 min-w-0" bind:clientWidth={width}>
      <label class="print:hidden"
        ><span class="sr-only">Curve</span>
        <select
          class="text-[15px] font-semibold bg-paper"
          bind:value={shown}
          aria-label="Curve to draw"
        >
          {#each groups as group (group)}
            <optgroup label={group}>
              {#each readings.filter((one) => one.group === group) as one (one.key)}
                <option value={one.key}>{one.label}</option>
              {/each}
            </optgroup>
          {/each}
        </select></label
      >
      <label class="pl-3.5 print:hidden"
        ><span class="unit">against</span>
        <select
          class="text-[15px] font-semibold bg-paper"
          aria-label="Rival"
          value={rival ?? ''}
          onchange={(event) => {
            rival = event.currentTarget.value ? Number(event.currentTarget.value) : null
            drive()
          }}
        >
          <option value="">no other car</option>
          {#each studies.cars as car (car.id)}<option value={car.id}>{car.name}</option>{/each}
        </select></label
      >
      {#if rival === null}<label class="pl-3.5 print:hidden"
          ><span class="unit">or top speed</span>
          <input
            class="dotted-below w-13 font-figures text-[15px] font-semibold bg-transparent"
            inputmode="decimal"
            aria-label="Speed of a rival at the end of the fastest straight"
            value={rivalSpeed === null ? '' : plain(view.units.speed(rivalSpeed), 1)}
            onchange={(event) => reached(event.currentTarget)}
          />
          <span class="unit">{view.units.speedUnit}</span></label
        >{/if}
      <SweepPlot
        {sweep}
        {reading}
        {view}
        {width}
        height={Math.min(400, Math.max(260, width * 0.46))}
        {at}
        choose={(index) => (looked = index)}
      />
      <div class="pl-0 pr-5.5 py-0">
        <LookAt
          label="Look at a value"
          most={sweep.points.length - 1}
          {at}
          text="{said(point?.value)}, {point?.figures
            ? lapTime(point.figures.lap_time_s)
            : 'not calculated'}"
          choose={(index) => (looked = index)}
        />
      </div>
    </div>
    {#if point}
      <div class="flex-none w-85 narrow:w-full" data-testid="sweep-point">
        <p class="where">
          <span class="figure pr-2.5 text-[22px]">{said(point.value)}</span>
          {#if point.value !== sweep.axis.present && point.value !== sweep.axis.chosen}
            <button
              class="link print:hidden"
              disabled={studies.stale('one')}
              onclick={() => void studies.take([{ axis: sweep.axis.name, value: point.value }])}
              >Apply to plan</button
            >
          {:else}<span class="unit">as in the plan</span>{/if}
        </p>
        {#if point.figures}
          <p class="lap">
            <span class="figure pr-2 text-[27px]">{lapTime(point.figures.lap_time_s)}</span>
            <span class="figure pr-2 text-[19px]">{timeDifference(point.change_s ?? 0)} s</span>
            {#if point.change_band && point.change_band.high - point.change_band.low >= 0.001}<span
                class="unit"
                >{timeDifference(point.change_band.low)} to {timeDifference(point.change_band.high)} s
                (80 % band)</span
              >{/if}
          </p>
          <p class="unit">
            Top speed {plain(view.units.speed(point.figures.top_speed_ms), 1)}
            {view.units.speedUnit} at {plain(point.figures.top_rpm, 0)} rpm; fuel
            {plain(view.units.show(point.figures.fuel_litres, 'volume'), 2)}
            {view.units.unitOf('volume')} a lap
          </p>
          {#if sweep.rival && against.length > 0}
            <p data-testid="rival">
              Against {sweep.rival.name}, {sweep.rival.figures
                ? 'both leaving the corner at the same moment'
                : 'alongside and at the same exit speed'}: {#each against as one, n (one.label)}{n >
                0
                  ? ', '
                  : ''}{one.metres >= 0 ? 'gains' : 'loses'}
                {plain(Math.abs(view.units.length(one.metres)), 1)}
                {view.units.lengthUnit} <span class="place">{one.label}</span>{/each}.
            </p>
          {/if}
          <StretchBars stretches={sweep.stretches} {changes} result={bench.result} />
        {:else}<p>{point.trouble ?? 'Not calculated yet.'}</p>{/if}
      </div>
    {/if}
  </div>
  <p class="unit pt-0.5">
    The driven line does not change. The band is for the difference from the plan, with the same
    random draws at every value{point?.lap_band && point.figures
      ? `; the lap as a whole is uncertain by ${(point.lap_band.high - point.figures.lap_time_s).toFixed(2)} s either way`
      : ''}.
  </p>
{/if}
