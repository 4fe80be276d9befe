<script lang="ts">
  import { plain, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Weather } from './weather.svelte'

  /** The weather station: where it is, whether this plan follows it, and from how much on. */
  let { bench, view, weather }: { bench: Workbench; view: View; weather: Weather } = $props()
  let refusal = $state('')
  const station = $derived(weather.station)
  const units = $derived(view.units)

  async function set(address: string | null, threshold_m: number): Promise<void> {
    refusal = (await weather.setStation(address, threshold_m)) ?? ''
  }
  function threshold(field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    if (!station) return
    if (value === null || value <= 0) {
      field.value = plain(units.length(station.threshold_m), 1)
      return
    }
    void set(station.address, units.read(value, 'length'))
  }
</script>

<section aria-label="Weather station">
  <h2 class="font-figures text-[17px] font-semibold">Station</h2>
  {#if station}
    <label class="px-0 py-0.5 block"
      ><span class="unit">On this machine, at</span>
      <input
        class="address w-52.5"
        aria-label="Address of the station"
        placeholder="http://127.0.0.1:8790"
        value={station.address ?? ''}
        onchange={(event) =>
          void set(event.currentTarget.value.trim() || null, station.threshold_m)}
      /></label
    >
    {#if refusal}<p role="alert" class="refusal">{refusal}</p>{/if}
    <p class="unit" data-testid="station-state">
      {#if station.state === 'none'}
        No station is set. <span class="place">neapfrost standin weather</span> runs a simulated one.
      {:else if station.state === 'gone'}
        No answer: {station.trouble}.
      {:else}
        {station.name}{station.day ? `: ${station.day}` : ''}{station.pace !== 1
          ? `, ${plain(station.pace, 1)} times real time`
          : ''}.
        {#if station.simulated}<b>Simulated, not real readings.</b>{/if}
      {/if}
    </p>
    <label class="px-0 py-0.5 block"
      ><input
        type="checkbox"
        checked={weather.now?.follows_station ?? false}
        onchange={(event) => void weather.choose({ follows_station: event.currentTarget.checked })}
      /> this plan follows it</label
    >
    <label class="px-0 py-0.5 block"
      >Alert when a call moves by more than <input
        class="number w-11 text-right"
        inputmode="decimal"
        aria-label="Alert when a braking point moves by more than"
        value={plain(units.length(station.threshold_m), 1)}
        onchange={(event) => threshold(event.currentTarget)}
      />
      <span class="unit">{units.lengthUnit}</span></label
    >
    {#if weather.since}<p data-testid="station-since">{weather.since.said}</p>{/if}
    {#if station.state === 'answers'}
      <button
        class="link"
        onclick={() =>
          void weather.keepStation(
            `${bench.open?.circuit.name ?? 'Station'}, ${station.reading?.at.slice(0, 16).replace('T', ' ') ?? ''}`,
          )}>Save its readings as a record</button
      >
    {/if}
  {:else}<p class="unit">Asking the station…</p>{/if}
</section>

<style>
  input:not([type='checkbox']) {
    font-family: var(--figures);
    font-size: 16px;
    font-weight: 600;
    background: transparent;
    border-bottom: 1px dotted var(--ink-2);
  }
</style>
