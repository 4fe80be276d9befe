<script lang="ts">
  import { plain } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Weather } from './weather.svelte'

  /** The station in one line: what it reads now, that it is simulated, or that it is gone. */
  let { weather, view }: { weather: Weather; view: View } = $props()
  const station = $derived(weather.station)
  const reading = $derived(station?.reading)
  const temperature = (celsius: number | undefined): string =>
    plain(view.units.show(celsius ?? 0, 'temperature'), 0)
</script>

{#if station?.state === 'answers' && reading}
  <span class="unit ml-auto text-[13px]" data-testid="station-now">
    {station.name}{station.simulated && !/simulated/i.test(station.name) ? ', simulated' : ''}:
    <span class="figure">{reading.at.slice(11, 16)}</span>
    air {temperature(reading.air_temp_c)}, road {temperature(reading.track_temp_c)}
    {view.units.temperatureUnit}, wind {plain(
      view.units.show(reading.wind_speed_ms ?? 0, 'wind'),
      1,
    )}
    {view.units.unitOf('wind')} from {plain(reading.wind_from_deg ?? 0, 0)}°{(reading.rain_mm_h ??
      0) > 0
      ? `, rain ${plain(reading.rain_mm_h ?? 0, 1)} mm/h`
      : ''}
  </span>
{:else if station?.state === 'gone'}
  <span class="ml-auto text-[13px] font-semibold" role="status" data-testid="station-now"
    >The station does not answer ({station.trouble}); trying again every second.</span
  >
{/if}
