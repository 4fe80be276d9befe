<script lang="ts">
  import { whole } from '../parts/format'
  import type { Units } from '../parts/units'
  import type { FirstEntry } from './firstEntry.svelte'
  import FirstFigure from './FirstFigure.svelte'
  import { KINDS } from './kinds'

  /** The car by what is printed and known of it. */
  let { entry, units }: { entry: FirstEntry; units: Units } = $props()

  /** The speed that the downforce is asked at: 200 km/h. */
  const DOWNFORCE_AT_MS = 200 / 3.6
</script>

<FirstFigure label="Name" bind:value={entry.car.name} />
<div class="mx-0 my-3 gap-x-7.5 gap-y-3.5 flex flex-wrap">
  <label class="flex flex-col">
    <span>Kind</span>
    <select
      class="figure px-0 py-px border-x-0 border-t-0 dotted-below bg-paper text-ink text-[19px]"
      value={entry.car.kind}
      onchange={(event) => entry.turnTo(event.currentTarget.value as typeof entry.car.kind)}
    >
      {#each KINDS as one (one.kind)}<option value={one.kind}>{one.label}</option>{/each}
    </select>
  </label>
  {#if entry.fourWheels}
    <label class="flex flex-col">
      <span>Driven wheels</span>
      <select
        class="figure px-0 py-px border-x-0 border-t-0 dotted-below bg-paper text-ink text-[19px]"
        bind:value={entry.car.driven}
      >
        <option value="rear">rear</option>
        <option value="front">front</option>
        <option value="all">all</option>
      </select>
    </label>
  {/if}
  <FirstFigure
    label="Mass without driver"
    unit={units.unitOf('mass')}
    bind:value={entry.car.mass}
  />
  <FirstFigure label="Peak power" unit={units.unitOf('power')} bind:value={entry.car.power} />
  <FirstFigure label="Top speed" unit={units.speedUnit} bind:value={entry.car.topSpeed} />
  <FirstFigure label="Lateral g in slow corners" unit="g" bind:value={entry.car.lateral} />
  {#if entry.fourWheels}
    <FirstFigure
      label="Downforce at {whole(units.speed(DOWNFORCE_AT_MS))} {units.speedUnit}"
      unit={units.unitOf('mass')}
      bind:value={entry.car.downforce}
    />
  {/if}
</div>
<p class="unit">
  Drag follows from power and top speed; engine curve, gears, weight distribution and brake bias are
  typical values you can change later.
</p>
