<script lang="ts">
  import { lapTime } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Weather } from './weather.svelte'

  /** That the station's weather has moved a call of the plan; nothing changes by itself. */
  let { weather, view }: { weather: Weather; view: View } = $props()
  const since = $derived(weather.since)
  const shown = $derived(since?.moved && weather.left !== since.corners.join())
</script>

{#if since && shown}
  <p class="since" role="status" data-testid="since">
    <span class="what"
      >{since.said}{since.lap_time_s !== null ? ` ${lapTime(since.lap_time_s)} now.` : ''}</span
    >
    <button class="link" onclick={() => void weather.takeSince()}
      >take the present weather into the plan</button
    >
    <button
      class="link"
      onclick={() => {
        view.turnTo('conditions')
        view.conditionsTab = 'session'
      }}>look at the session</button
    >
    <button class="link" onclick={() => (weather.left = since.corners.join())}>leave it</button>
    <span class="unit"
      >{weather.station?.simulated ? 'simulated station' : 'station'}, {since.at.slice(
        11,
        16,
      )}</span
    >
  </p>
{/if}

<style>
  .since {
    display: flex;
    flex-wrap: wrap;
    gap: 0 14px;
    align-items: baseline;
    padding: 3px 0 4px;
    border-bottom: 1px solid var(--rule);
    font-size: 14px;
  }
  .what {
    font-family: var(--figures);
    font-size: 15.5px;
    font-weight: 600;
  }
</style>
