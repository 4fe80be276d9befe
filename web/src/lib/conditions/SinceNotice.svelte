<script lang="ts">
  import type { View } from '../state/view.svelte'
  import type { Weather } from './weather.svelte'

  /** That the station's weather has moved a call of the plan; nothing changes by itself. */
  let { weather, view }: { weather: Weather; view: View } = $props()
  const since = $derived(weather.since)
  const shown = $derived(since?.moved && weather.left !== since.corners.join())
</script>

{#if since && shown}
  <p
    class="since px-0 pt-0.5 pb-0.75 border-b border-b-rule text-[13px] leading-[1.35]"
    role="status"
    data-testid="since"
  >
    <span class="font-figures text-[15px] font-semibold">{since.said}</span>
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
