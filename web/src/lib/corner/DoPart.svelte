<script lang="ts">
  import type {
    Corner,
    CornerBand,
    CornerCalls,
    CornerMap,
    CornerNote,
    Result,
  } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { whole } from '../parts/format'
  import AskedPart from './AskedPart.svelte'
  import CornerCurve from './CornerCurve.svelte'
  import CornerPlan from './CornerPlan.svelte'

  /** What to do at the corner: its plan, the speed through it, the calls in a sentence each. */
  let {
    bench,
    view,
    result,
    corner,
    number,
    calls,
    map,
    note,
    band,
    width,
  }: {
    bench: Workbench
    view: View
    result: Result
    corner: Corner
    number: number
    calls: CornerCalls | null
    map: CornerMap | null
    note: CornerNote | undefined
    band: CornerBand | null
    width: number
  } = $props()

  const units = $derived(view.units)
  const PLAN = 196
  const RIGHT = 330
  const narrow = $derived(width < 900)
  const curveWidth = $derived(narrow ? Math.max(width - 30, 300) : width - PLAN - RIGHT - 74)
  const HELD = {
    front: 'front axle (understeer)',
    rear: 'rear axle (oversteer)',
    power: 'engine power',
    unloading: 'a light axle',
    lean: 'lean angle',
    none: 'nothing: full throttle',
  }
  const facts = $derived([
    {
      figure: 'lateral_g',
      name: 'Across',
      value: `${corner.lateral_g.toFixed(2)} g`,
    },
    {
      figure: 'time_in_corner_s',
      name: 'Time in corner',
      value: `${corner.time_in_corner_s.toFixed(2)} s`,
    },
  ])
  const figures = $derived(
    [
      { figure: 'brake_start_to_corner_m', name: 'braking point', on: corner.action === 'brake' },
      { figure: 'braking_distance_m', name: 'distance', on: corner.action === 'brake' },
      { figure: 'peak_decel_g', name: 'peak g', on: corner.action === 'brake' },
      { figure: 'gear', name: 'gear', on: true },
      { figure: 'min_speed_ms', name: 'minimum speed', on: true },
      { figure: 'exit_speed_ms', name: 'exit', on: true },
    ].filter((one) => one.on),
  )
  const hazards = $derived(
    [note?.blind && 'blind', note?.wall && 'wall', note?.no_run_off && 'no run-off'].filter(
      (word): word is string => typeof word === 'string',
    ),
  )
  const doubt = $derived(
    band?.gear_in_doubt
      ? band.gears
          .filter((one) => one.share_pct >= 10)
          .map((one) => `${one.gear} in ${whole(one.share_pct)} %`)
          .join(', ')
      : '',
  )
  const said = $derived(
    [
      calls?.into_next,
      calls?.braking?.reason,
      calls?.braking?.road ? `${calls.braking.road}.` : '',
      calls?.gear?.reason,
      calls?.hold?.reason,
      // What nothing within reason changes is left to the calls.
      calls && (calls.flat.thresholds.length > 0 || corner.action !== 'brake')
        ? calls.flat.reason
        : '',
      calls?.flat.thresholds.map((one) => one.said).join('; '),
    ].filter((text): text is string => Boolean(text)),
  )
</script>

<div class="do gap-x-5 gap-y-0 grid grid-cols-[196px_1fr_330px]" class:narrow>
  <div class="side pr-1.5 border-r border-r-rule">
    {#if map}
      <CornerPlan
        {map}
        {view}
        width={narrow ? Math.min(width - 30, 330) : PLAN}
        height={narrow ? 240 : 160}
      />
    {:else}<div class="unit h-44">Drawing the corner…</div>{/if}
    <dl>
      <div>
        <dt class="text-ink-2 whitespace-nowrap">Direction</dt>
        <dd class="text-right">
          {corner.direction} <span class="figure text-[15px]">{whole(corner.angle_deg)}°</span>{map
            ? `, ${map.approach}`
            : ''}
        </dd>
      </div>
      <div>
        <dt class="text-ink-2 whitespace-nowrap">Driven radius</dt>
        <dd class="text-right">
          <span class="figure text-[15px]"
            >{map?.driven_radius_m ? whole(units.length(map.driven_radius_m)) : '–'}</span
          >
          {units.lengthUnit}
        </dd>
      </div>
      <div>
        <dt class="text-ink-2 whitespace-nowrap">Limited by</dt>
        <dd class="text-right">{HELD[corner.limited_by]}</dd>
      </div>
      {#each facts as fact (fact.name)}
        <div>
          <dt class="text-ink-2 whitespace-nowrap">{fact.name}</dt>
          <dd class="text-right">
            <button class="open figure text-[15px]" onclick={() => view.openWorking(fact.figure)}
              >{fact.value}</button
            >
          </dd>
        </div>
      {/each}
    </dl>
  </div>
  <div>
    <CornerCurve
      {result}
      {corner}
      words={bench.words?.corners[number] ?? null}
      {calls}
      {map}
      {band}
      {view}
      closed={bench.open?.plan.circuit.closed ?? true}
      width={curveWidth}
      height={262}
    />
    <p class="unit">
      Working of
      {#each figures as one, index (one.figure)}<button
          class="open"
          onclick={() => view.openWorking(one.figure)}>{one.name}</button
        >{index < figures.length - 1 ? ', ' : '.'}{/each}
    </p>
  </div>
  <div class="right pl-3.5 border-l border-l-rule">
    {#if hazards.length > 0 || doubt}
      <p class="pl-1.75 mb-0.75 border-l-3 border-l-ink text-[14px] leading-[1.2]">
        {#if hazards.length > 0}<span
            ><b>{hazards.join(', ')}</b>: extra margin on the first laps.</span
          >{/if}
        {#if doubt}<span><b>Gear in doubt</b>: {doubt} of the laps.</span>{/if}
      </p>
    {/if}
    <ul class="list-none" aria-label="Calls in short">
      {#each said as text (text)}<li
          class="px-0 py-px border-t border-t-hair text-[13px] leading-[1.2]"
        >
          {text}
        </li>{:else}<li class="unit px-0 py-px border-t border-t-hair text-[13px] leading-[1.2]">
          Calculating the calls…
        </li>{/each}
    </ul>
    <AskedPart {bench} {view} {corner} {number} {calls} />
  </div>
</div>

<style>
  .do.narrow {
    grid-template-columns: 1fr;
  }
  .narrow .side {
    border-right: 0;
  }
  .narrow .right {
    border-left: 0;
    padding-left: 0;
  }
  dl > div {
    display: flex;
    justify-content: space-between;
    gap: 8px;
    border-top: 1px solid var(--hair);
    font-size: 14px;
    line-height: 1.25;
    padding: 1px 0;
  }
  .open {
    cursor: pointer;
    text-decoration: underline dotted;
    text-underline-offset: 2px;
  }
  li:first-child {
    border-top: 0;
  }
</style>
