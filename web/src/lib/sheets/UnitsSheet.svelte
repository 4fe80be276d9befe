<script lang="ts">
  import {
    keyOf,
    KINDS,
    kindLabel,
    presetLabel,
    presetOf,
    PRESETS,
    unitsOf,
    withUnit,
  } from '../parts/units'
  import type { View } from '../state/view.svelte'

  /** The units that all figures, sentences, prints and exports are shown in. */
  let { view }: { view: View } = $props()
</script>

<fieldset class="mb-3">
  <legend class="figure text-[18px]">Usual together</legend>
  {#each PRESETS as preset (preset)}
    <label class="px-0 py-1 gap-2 flex items-center text-[15px]">
      <input
        type="radio"
        class="radio radio-sm"
        name="preset"
        checked={view.system === preset}
        onchange={() => view.speak(preset)}
      />
      {presetLabel(preset)}
    </label>
  {/each}
  {#if view.system !== presetOf(view.system)}
    <p class="unit">With single units of your own, below.</p>
  {/if}
</fieldset>
<fieldset class="mb-3">
  <legend class="figure text-[18px]">One by one</legend>
  <div class="gap-x-4 gap-y-2 grid grid-cols-2">
    {#each KINDS as kind (kind)}
      <label class="gap-2 flex items-center justify-between text-[15px]"
        >{kindLabel(kind)}
        <select
          class="select select-sm w-28"
          value={keyOf(view.system, kind)}
          onchange={(event) => view.speak(withUnit(view.system, kind, event.currentTarget.value))}
        >
          {#each unitsOf(kind) as unit (unit.key)}
            <option value={unit.key}>{unit.symbol}</option>
          {/each}
        </select>
      </label>
    {/each}
  </div>
</fieldset>
<p class="unit">
  Plan documents and tables for other programs stay in SI units and say so in their heads. A board’s
  label stays as painted.
</p>
