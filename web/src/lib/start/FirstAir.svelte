<script lang="ts">
  import type { Units } from '../parts/units'
  import type { FirstEntry } from './firstEntry.svelte'
  import FirstFigure from './FirstFigure.svelte'

  /** The air and the track. */
  let { entry, units }: { entry: FirstEntry; units: Units } = $props()
</script>

<FirstFigure label="Name" bind:value={entry.air.name} />
<div class="mx-0 my-3 gap-x-7.5 gap-y-3.5 flex flex-wrap">
  <FirstFigure label="Air" unit={units.temperatureUnit} bind:value={entry.air.temperature} />
  <FirstFigure label="Wind" unit={units.unitOf('wind')} bind:value={entry.air.wind} />
  <FirstFigure label="Wind from" unit="°" bind:value={entry.air.from} />
  <FirstFigure label="Wetness" unit="%" bind:value={entry.air.wetness} />
</div>
