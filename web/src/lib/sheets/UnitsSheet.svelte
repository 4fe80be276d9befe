<script lang="ts">
  import type { System } from '../parts/units'
  import type { View } from '../state/view.svelte'

  /** How the page says speeds, lengths and temperatures. */
  let { view }: { view: View } = $props()

  const systems: { system: System; label: string }[] = [
    { system: 'metric', label: 'km/h and metres' },
    { system: 'feet', label: 'mph and feet' },
    { system: 'yards', label: 'mph and yards' },
  ]
</script>

<fieldset class="mb-3">
  <legend class="figure text-[18px]">Speeds and lengths</legend>
  {#each systems as { system, label } (system)}
    <label class="px-0 py-1 gap-2 flex items-center text-[15px]">
      <input
        type="radio"
        class="radio radio-sm"
        name="system"
        checked={view.system === system}
        onchange={() => view.speak(system)}
      />
      {label}
    </label>
  {/each}
  <p class="unit">Distances to boards use these units too; a board’s label stays as painted.</p>
</fieldset>
<fieldset class="mb-3">
  <legend class="figure text-[18px]">Temperatures</legend>
  {#each [false, true] as fahrenheit (fahrenheit)}
    <label class="px-0 py-1 gap-2 flex items-center text-[15px]">
      <input
        type="radio"
        class="radio radio-sm"
        name="temperature"
        checked={view.fahrenheit === fahrenheit}
        onchange={() => view.sayTemperatures(fahrenheit)}
      />
      {fahrenheit ? '°F' : '°C'}
    </label>
  {/each}
</fieldset>
