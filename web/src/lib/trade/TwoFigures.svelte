<script lang="ts">
  import { untrack } from 'svelte'
  import { lapTime, plain, timeDifference, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Axis } from '../api/client'
  import AxisField from './AxisField.svelte'
  import IsobarPlot from './IsobarPlot.svelte'
  import StudyHead from './StudyHead.svelte'
  import type { Limits, Range, Studies } from './studies.svelte'

  /** Two figures at once: where the lap is quickest, how wide the plateau is, what limits cost. */
  let { bench, view, studies }: { bench: Workbench; view: View; studies: Studies } = $props()

  const FIRST_X = ['wing_downforce', 'wing', 'fuel_kg']
  const FIRST_Y = ['final_drive', 'gear_set', 'grip']
  const VALUES_MOST = 25
  let width = $state(820)
  let x = $state.raw<Range>({ axis: '', low: null, high: null, count: 11 })
  let y = $state.raw<Range>({ axis: '', low: null, high: null, count: 11 })
  let looked = $state.raw<{ column: number; row: number } | null>(null)

  const job = $derived(studies.jobs.two)
  const grid = $derived(job?.grid ?? null)
  const axes = $derived(view.axisPair.map((name) => studies.axis(name)))
  const at = $derived(looked ?? grid?.best ?? { column: 0, row: 0 })
  const lap = $derived(grid?.lap_time_s[at.row]?.[at.column] ?? null)
  const xValue = $derived(grid?.x_values[at.column])
  const yValue = $derived(grid?.y_values[at.row])

  $effect(() => {
    const known = studies.axes
    const [first, second] = view.axisPair
    untrack(() => {
      if (studies.axis(first) && studies.axis(second)) {
        if (x.axis !== first) x = { ...x, axis: first, low: null, high: null }
        if (y.axis !== second) y = { ...y, axis: second, low: null, high: null }
        // The first pair is calculated at once; another is when it is asked for.
        if (!job) drive()
        return
      }
      const found = (wanted: string[], not = ''): string =>
        wanted.find((name) => known.some((axis) => axis.name === name && name !== not)) ?? 'grip'
      const one = studies.axis(first) ? first : found(FIRST_X)
      view.axisPair = [one, studies.axis(second) ? second : found(FIRST_Y, one)]
    })
  })

  function drive(): void {
    looked = null
    void studies.grid(x, y)
  }
  function bounded(name: keyof Limits, text: string, read: (value: number) => number): void {
    const value = typedNumber(text)
    looked = null
    void studies.limit({ ...studies.limits, [name]: value === null ? null : read(value) })
  }
  const limits = $derived([
    {
      name: 'top_speed_at_least_ms' as const,
      label: 'Top speed at least',
      unit: view.units.speedUnit,
      shown: (value: number) => plain(view.units.show(value, 'speed'), 1),
      read: (value: number) => view.units.read(value, 'speed'),
    },
    {
      name: 'top_rpm_at_most' as const,
      label: 'Revs there at most',
      unit: 'rpm',
      shown: (value: number) => plain(value, 0),
      read: (value: number) => value,
    },
    {
      name: 'fuel_at_most_litres' as const,
      label: 'Fuel a lap at most',
      unit: view.units.unitOf('volume'),
      shown: (value: number) => plain(view.units.show(value, 'volume'), 3),
      read: (value: number) => view.units.read(value, 'volume'),
    },
  ])
  function said(axis: Axis, value: number | string | undefined): string {
    if (typeof value !== 'number') return value ?? ''
    const unit = view.units.unitFor(axis)
    return `${plain(view.units.show(value, axis.quantity), axis.decimals)} ${unit}`
  }
  /** The cell that is looked at is stepped by keys; the keys do nothing else then. */
  function step(event: KeyboardEvent): void {
    if (!grid) return
    const moves: Record<string, [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
    }
    const move = moves[event.key]
    if (!move) return
    event.preventDefault()
    event.stopPropagation()
    looked = {
      column: Math.min(Math.max(at.column + move[0], 0), grid.x_values.length - 1),
      row: Math.min(Math.max(at.row + move[1], 0), grid.y_values.length - 1),
    }
  }
</script>

<StudyHead {studies} kind="two" again={drive} said={grid?.said} testid="grid-said">
  <div>
    <AxisField
      label="Across"
      axes={studies.axes}
      axis={axes[0]}
      range={x}
      most={VALUES_MOST}
      {view}
      choose={(name) => (view.axisPair = [name, view.axisPair[1]])}
      change={(range) => (x = range)}
    />
    <AxisField
      label="Upwards"
      axes={studies.axes}
      axis={axes[1]}
      range={y}
      most={VALUES_MOST}
      {view}
      choose={(name) => (view.axisPair = [view.axisPair[0], name])}
      change={(range) => (y = range)}
    />
  </div>
</StudyHead>
{#if !grid}
  <p class="unit px-0 py-7.5 text-[15px] max-w-140">
    Nothing calculated yet: choose two figures and calculate {x.count} × {y.count} laps. Contours join
    points of equal lap time.
  </p>
{:else}
  <div class="columns gap-7 flex narrow:flex-col">
    <div class="flex-1 min-w-0" bind:clientWidth={width}>
      <!-- The plot is looked at by pointer here, and by arrow keys in the field beside it. -->
      <IsobarPlot
        {grid}
        {view}
        {width}
        height={Math.min(490, Math.max(300, width * 0.6))}
        {at}
        choose={(column, row) => (looked = { column, row })}
      />
    </div>
    <div class="flex-none w-75 narrow:w-full">
      <fieldset>
        <legend class="figure text-[18px]">Limits</legend>
        {#each limits as limit (limit.name)}
          <label class="px-0 py-0.5 gap-2 border-t border-t-hair flex justify-between text-[14px]"
            ><span>{limit.label}</span>
            <span
              ><input
                class="dotted-below w-17.5 font-figures text-[16px] font-semibold bg-transparent text-right"
                inputmode="decimal"
                placeholder="free"
                value={studies.limits[limit.name] === null
                  ? ''
                  : limit.shown(studies.limits[limit.name] ?? 0)}
                onchange={(event) => bounded(limit.name, event.currentTarget.value, limit.read)}
              />
              <span class="unit">{limit.unit}</span></span
            ></label
          >
        {/each}
      </fieldset>
      <!-- Stepped by arrow keys, as its label says. -->
      <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
      <div
        class="pt-1 mx-0 my-2.5 border-t-2 border-t-ink"
        role="group"
        tabindex="0"
        aria-label="Point on the map; arrow keys move it"
        onkeydown={step}
        data-testid="grid-cell"
      >
        <p class="where">
          <span class="figure text-[19px]">{said(grid.x, xValue)}</span>
          {grid.x.label}
        </p>
        <p class="where">
          <span class="figure text-[19px]">{said(grid.y, yValue)}</span>
          {grid.y.label}
        </p>
        {#if lap !== null}
          <p>
            <span class="figure lap pr-2 text-[27px]">{lapTime(lap)}</span>
            <span class="figure">{timeDifference(lap - grid.present_s)} s</span>
          </p>
          <p class="unit">
            Top speed {plain(view.units.speed(grid.top_speed_ms[at.row]?.[at.column] ?? 0), 1)}
            {view.units.speedUnit} at {plain(grid.top_rpm[at.row]?.[at.column] ?? 0, 0)} rpm; fuel
            {plain(view.units.show(grid.fuel_litres[at.row]?.[at.column] ?? 0, 'volume'), 2)}
            {view.units.unitOf('volume')} a lap{grid.shut[at.row]?.[at.column]
              ? '; outside the limits'
              : ''}
          </p>
          {#if xValue !== undefined && yValue !== undefined}
            <button
              class="link"
              disabled={studies.stale('two')}
              onclick={() =>
                void studies.take([
                  { axis: grid.x.name, value: xValue },
                  { axis: grid.y.name, value: yValue },
                ])}>Apply both to plan</button
            >
          {/if}
        {:else}<p class="unit">Not calculated, or no lap is possible here.</p>{/if}
      </div>
      <ul class="unit">
        <li class="gap-2 flex items-center">
          <b class="w-4 h-3 text-center leading-[12px] text-cool text-[20px]" aria-hidden="true"
            >+</b
          > quickest within the limits
        </li>
        <li class="gap-2 flex items-center">
          <span
            class="border border-rule w-4 h-3 text-center leading-[12px] bg-wash"
            aria-hidden="true"
          ></span>
          within {grid.even_s} s of it
        </li>
        <li class="gap-2 flex items-center">
          <span class="land w-4 h-3 text-center leading-[12px]" aria-hidden="true"></span> outside the
          limits
        </li>
      </ul>
      <p class="unit">Plan {bench.open?.name}: {lapTime(grid.present_s)}</p>
    </div>
  </div>
{/if}

<style>
  .land {
    border: 1px solid var(--rule);
    background: repeating-linear-gradient(45deg, var(--coast) 0 1.5px, transparent 1.5px 5px);
  }
</style>
