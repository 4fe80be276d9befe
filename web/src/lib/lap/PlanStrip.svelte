<script lang="ts">
  import { changeKey, type Workbench } from '../state/workbench.svelte'
  import type { Assumptions, Change } from '../api/client'
  import Figure from '../parts/Figure.svelte'

  /** What the lap is based on: the plan, and the figures a person changes first. */
  let { bench }: { bench: Workbench } = $props()

  interface Field {
    field: Exclude<keyof Assumptions, 'radii_m'>
    label: string
    unit: string
    decimals: number
    step: number
    fine: number
    width: string
    hint: string
  }

  const fields: Field[] = [
    {
      field: 'grip',
      label: 'Grip',
      unit: 'μ',
      decimals: 3,
      step: 0.01,
      fine: 0.002,
      width: '4.4ch',
      hint: 'Lateral friction at the reference load; the longitudinal one keeps its ratio to it',
    },
    {
      field: 'lift_area_m2',
      label: 'Downforce',
      unit: 'm² ClA',
      decimals: 2,
      step: 0.1,
      fine: 0.02,
      width: '3.6ch',
      hint: 'Lift coefficient times area; more presses the car on the road with the square of speed',
    },
    {
      field: 'drag_area_m2',
      label: 'Drag',
      unit: 'm² CdA',
      decimals: 2,
      step: 0.05,
      fine: 0.01,
      width: '3.6ch',
      hint: 'Drag coefficient times area',
    },
    {
      field: 'peak_power_kw',
      label: 'Power',
      unit: 'kW',
      decimals: 1,
      step: 5,
      fine: 1,
      width: '4.6ch',
      hint: 'Peak of the engine; the whole torque curve is scaled to it',
    },
    {
      field: 'mass_kg',
      label: 'Mass',
      unit: 'kg',
      decimals: 1,
      step: 10,
      fine: 1,
      width: '4.6ch',
      hint: 'Without driver and fuel',
    },
    {
      field: 'fuel_kg',
      label: 'Fuel',
      unit: 'kg',
      decimals: 1,
      step: 5,
      fine: 1,
      width: '3.4ch',
      hint: 'On board for this lap',
    },
    {
      field: 'air_temp_c',
      label: 'Air',
      unit: '°C',
      decimals: 1,
      step: 1,
      fine: 0.5,
      width: '3.4ch',
      hint: 'Air temperature',
    },
    {
      field: 'pressure_hpa',
      label: 'Pressure',
      unit: 'hPa',
      decimals: 1,
      step: 5,
      fine: 1,
      width: '5.2ch',
      hint: 'Air pressure at the circuit, not reduced to sea level',
    },
    {
      field: 'wind_speed_ms',
      label: 'Wind',
      unit: 'm/s',
      decimals: 1,
      step: 1,
      fine: 0.2,
      width: '3ch',
      hint: 'Wind speed; its component along the road counts',
    },
    {
      field: 'wind_from_deg',
      label: 'from',
      unit: '°',
      decimals: 0,
      step: 10,
      fine: 1,
      width: '3.6ch',
      hint: 'Bearing the wind comes from, clockwise from north',
    },
    {
      field: 'wetness_pct',
      label: 'Wetness',
      unit: '%',
      decimals: 0,
      step: 5,
      fine: 1,
      width: '3ch',
      hint: 'Water on the track; an assumed curve for a dry tyre turns it into grip',
    },
  ]

  function make(field: Change['field'], value: number): void {
    bench.change({ field, value })
  }
  const refusalOf = (field: Change['field']): string | null =>
    bench.refusal?.key === changeKey({ field }) ? bench.refusal.message : null
</script>

<section class="strip" aria-label="Assumptions">
  <label class="cell plan">
    <span class="unit">Plan</span>
    <select
      class="figure choice"
      value={bench.planId}
      onchange={(event) => void bench.open(event.currentTarget.value)}
    >
      {#each bench.plans as plan (plan.id)}
        <option value={plan.id}>{plan.name}</option>
      {/each}
    </select>
  </label>
  {#if bench.assumptions}
    {#each fields as field (field.field)}
      {@const value = bench.assumptions[field.field]}
      <div class="cell" title={field.hint}>
        <span class="unit">{field.label}</span>
        <span class="whitespace-nowrap">
          {#if value === null}
            <span class="place">from altitude</span>
          {:else}
            <Figure
              label="{field.label} ({field.unit})"
              {value}
              decimals={field.decimals}
              step={field.step}
              fine={field.fine}
              width={field.width}
              size="17px"
              refusal={refusalOf(field.field)}
              change={(next) => make(field.field, next)}
              refuse={(message) => bench.refuse(field.field, message)}
              forget={() => bench.clearRefusal(field.field)}
            />
            <span class="unit">{field.unit}</span>
          {/if}
        </span>
      </div>
    {/each}
  {/if}
</section>

<style>
  .strip {
    display: flex;
    flex-wrap: wrap;
    border-bottom: 1px solid var(--ink);
    min-height: 48px;
  }
  .cell {
    display: flex;
    flex-direction: column;
    padding: 5px 9px 4px;
    border-left: 1px solid var(--rule);
    line-height: 1.15;
    gap: 2px;
  }
  .cell:first-child {
    border-left: 0;
    padding-left: 0;
  }
  .plan {
    flex: 1 1 200px;
    min-width: 170px;
  }
  .choice {
    background: var(--paper);
    color: var(--ink);
    border: 0;
    border-bottom: 1px dotted var(--ink-2);
    font-size: 17px;
    width: 100%;
    text-overflow: ellipsis;
    height: 1.35em;
  }
</style>
