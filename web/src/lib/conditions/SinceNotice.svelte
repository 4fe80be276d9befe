<script lang="ts">
  import type { View } from '../state/view.svelte'
  import type { Weather } from './weather.svelte'

  /** That the station's weather has moved a call of the plan; nothing changes by itself. */
  let { weather, view }: { weather: Weather; view: View } = $props()
  const since = $derived(weather.since)
  const shown = $derived(since?.moved && weather.left !== since.corners.join())
  /** Views in which a driver reads or a run is written down: the weather does not interrupt them. */
  const QUIET = ['drill', 'brief', 'logbook']
  const here = $derived(!QUIET.includes(view.page))
</script>

<!-- Its line is kept free as long as the plan follows a station, so that nothing jumps. -->
{#if here && weather.now?.follows_station && !(since && shown)}
  <p class="h-6.5" data-testid="since-place"></p>
{:else if here && since && shown}
  <p
    class="since h-6.5 px-0 pt-0.5 pb-0.75 border-b border-b-rule text-[13px] leading-[1.35] flex items-baseline overflow-hidden whitespace-nowrap"
    title={since.said}
    role="status"
    data-testid="since"
  >
    <span class="font-figures text-[15px] font-semibold truncate min-w-0">{since.said}</span>
    <button class="link" onclick={() => void weather.takeSince()}>Use current weather</button>
    {#if view.page !== 'conditions'}<button
        class="link"
        onclick={() => {
          view.turnTo('conditions')
          view.conditionsTab = 'session'
        }}>See the session</button
      >{/if}
    <button class="link" onclick={() => (weather.left = since.corners.join())}>Dismiss</button>
    <span class="unit"
      >{weather.station?.simulated ? 'simulated station' : 'station'}, {since.at.slice(
        11,
        16,
      )}</span
    >
  </p>
{/if}

<style>
  .since > * {
    margin-right: 10px;
  }
</style>
