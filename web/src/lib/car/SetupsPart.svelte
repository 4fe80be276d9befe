<script lang="ts">
  import type { Car, Setup } from '../api/client'
  import type { Workbench } from '../state/workbench.svelte'
  import { plain } from '../parts/format'
  import CarFigure from './CarFigure.svelte'
  import TablesPart from './TablesPart.svelte'
  import type { CarWork } from './work.svelte'

  /** The car’s setups in columns: what the model computes above, what is only recorded below. */
  let { bench, work }: { bench: Workbench; work: CarWork } = $props()

  const car = $derived(work.car)
  const setups = $derived(car?.setups ?? [])
  const chosen = $derived(bench.open?.plan.setup ?? null)
  const lapOn = $derived(bench.open?.plan.conditions?.tyre_lap ?? null)
  let refusal = $state('')
  let newRecord = $state('')
  const RECORDS = [
    'Springs front',
    'Springs rear',
    'Bar front',
    'Bar rear',
    'Dampers',
    'Pressure front',
    'Pressure rear',
    'Camber front',
    'Camber rear',
    'Toe',
    'Differential',
    'Ride height front',
    'Ride height rear',
  ]
  const records = $derived([...new Set(setups.flatMap((setup) => Object.keys(setup.record ?? {})))])

  async function write(change: (car: Car) => Car): Promise<string | null> {
    refusal = (await work.write(change)) ?? ''
    return refusal || null
  }
  const setWith = (index: number, change: (setup: Setup) => Setup): Promise<string | null> =>
    write((whole) => ({
      ...whole,
      setups: (whole.setups ?? []).map((one, other) => (other === index ? change(one) : one)),
    }))
  const set = (index: number, change: Partial<Setup>): Promise<string | null> =>
    setWith(index, (setup) => ({ ...setup, ...change }))
  function add(): void {
    const from = setups.find((one) => one.name === chosen) ?? setups.at(-1)
    let number = setups.length + 1
    while (setups.some((one) => one.name === `Setup ${number}`)) number += 1
    void write((whole) => ({
      ...whole,
      setups: [
        ...(whole.setups ?? []),
        {
          ...(from ?? { ballast_kg: 0, ballast_front_fraction: 0.5, remark: '' }),
          name: `Setup ${number}`,
        },
      ],
    }))
  }
  function rename(index: number, name: string): void {
    if (name && name !== setups[index]?.name) void set(index, { name })
  }
  function record(index: number, key: string, value: string): void {
    void setWith(index, (setup) => ({
      ...setup,
      record: Object.fromEntries(
        Object.entries({ ...(setup.record ?? {}), [key]: value }).filter(([, one]) => one !== ''),
      ),
    }))
  }
  const NAMED = [
    { field: 'wing', label: 'Wing', table: 'wings' },
    { field: 'gear_set', label: 'Gear set', table: 'gear_sets' },
    { field: 'compound', label: 'Tyres', table: 'compounds' },
  ] as const
  const FIGURES = [
    {
      field: 'brake_front_fraction',
      label: 'Brakes on the front',
      unit: 'share',
      usual: 0.6,
      step: 0.005,
      decimals: 3,
    },
    { field: 'fuel_kg', label: 'Fuel', unit: 'kg', usual: 30, step: 1, decimals: 1 },
    { field: 'ballast_kg', label: 'Ballast', unit: 'kg', usual: 0, step: 1, decimals: 1 },
    {
      field: 'ballast_front_fraction',
      label: 'of it on the front',
      unit: 'share',
      usual: 0.5,
      step: 0.05,
      decimals: 2,
    },
  ] as const
  const tyreWords = (lap: number | null): string =>
    lap === null ? 'warm and new' : lap === 0 ? 'out lap' : `lap ${lap}`
</script>

{#if car}
  <div class="top">
    <label
      >This plan drives <select
        aria-label="Setup of this plan"
        value={chosen ?? ''}
        onchange={async (event) => {
          refusal = (await bench.editCar({ setup: event.currentTarget.value })) ?? ''
        }}
      >
        <option value="">the car as its sheet has it</option>
        {#each setups as setup (setup.name)}<option value={setup.name}>{setup.name}</option>{/each}
      </select></label
    >
    <label
      >with tyres <select
        aria-label="Lap on the tyres"
        value={lapOn ?? -1}
        onchange={async (event) => {
          refusal = (await bench.editCar({ tyre_lap: Number(event.currentTarget.value) })) ?? ''
        }}
      >
        {#each [-1, 0, 1, 2, 3, 5, 10, 15, 20, 30] as lap (lap)}
          <option value={lap}>{tyreWords(lap < 0 ? null : lap)}</option>
        {/each}
        {#if lapOn !== null && ![0, 1, 2, 3, 5, 10, 15, 20, 30].includes(lapOn)}
          <option value={lapOn}>{tyreWords(lapOn)}</option>
        {/if}
      </select></label
    >
    {#if bench.result?.fuel_litres}
      <span class="unit"
        >Fuel for a lap: <span class="figure">{plain(bench.result.fuel_litres, 2)}</span> l,
        <span class="figure">{plain(bench.result.fuel_kg ?? 0, 2)}</span> kg{car.fuel_use
          ?.litres_per_lap
          ? ', as stated'
          : `, from the engine’s work at ${plain(car.fuel_use?.g_per_kwh ?? 290, 0)} g/kWh`}</span
      >
    {/if}
    <button class="link" onclick={add}
      >{setups.length === 0 ? 'begin a setup' : 'another setup like this one'}</button
    >
  </div>
  {#if refusal}<p role="alert" class="refusal">{refusal}</p>{/if}
  {#if setups.length > 0}
    <div class="scroll">
      <table data-testid="setups">
        <thead>
          <tr>
            <th scope="col">Setup</th>
            {#each setups as setup, index (index)}
              <th scope="col" class:chosen={setup.name === chosen}>
                <input
                  class="place"
                  aria-label="Name of setup {index + 1}"
                  maxlength="200"
                  value={setup.name}
                  onchange={(event) => void rename(index, event.currentTarget.value.trim())}
                />
                <button
                  class="link small"
                  aria-label="Take {setup.name} away"
                  onclick={() =>
                    void write((whole) => ({
                      ...whole,
                      setups: (whole.setups ?? []).filter((_, other) => other !== index),
                    }))}>×</button
                >
              </th>
            {/each}
          </tr>
        </thead>
        <tbody>
          {#each NAMED as row (row.field)}
            <tr>
              <th scope="row">{row.label}</th>
              {#each setups as setup, index (index)}
                <td class:chosen={setup.name === chosen}
                  ><select
                    aria-label="{row.label} of {setup.name}"
                    value={setup[row.field] ?? ''}
                    onchange={(event) =>
                      void set(index, { [row.field]: event.currentTarget.value || null })}
                  >
                    <option value="">as the sheet</option>
                    {#each car[row.table] ?? [] as one (one.name)}
                      <option value={one.name}>{one.name}</option>
                    {/each}
                  </select></td
                >
              {/each}
            </tr>
          {/each}
          {#each FIGURES as row (row.field)}
            <tr>
              <th scope="row">{row.label} <span class="unit">{row.unit}</span></th>
              {#each setups as setup, index (index)}
                {@const value = setup[row.field]}
                <td class:chosen={setup.name === chosen}>
                  {#if value === null || value === undefined}
                    <button class="link" onclick={() => void set(index, { [row.field]: row.usual })}
                      >{row.field === 'fuel_kg' ? 'as the plan' : 'as the sheet'}</button
                    >
                  {:else}
                    <CarFigure
                      label="{row.label} of {setup.name} ({row.unit})"
                      {value}
                      decimals={row.decimals}
                      step={row.step}
                      fine={row.step / 5}
                      write={(next) => set(index, { [row.field]: next })}
                    />
                    {#if row.field === 'fuel_kg' || row.field === 'brake_front_fraction'}
                      <button
                        class="link small"
                        aria-label="Take {row.label} of {setup.name} away"
                        onclick={() => void set(index, { [row.field]: null })}>×</button
                      >
                    {/if}
                  {/if}
                </td>
              {/each}
            </tr>
          {/each}
          <tr class="group">
            <td colspan={setups.length + 1}
              ><span class="unit">Recorded, not computed: in your own words and units</span>
              <select
                aria-label="Record something else"
                value=""
                onchange={(event) => {
                  newRecord = event.currentTarget.value
                  event.currentTarget.value = ''
                  if (newRecord) record(0, newRecord, '–')
                }}
              >
                <option value="">record …</option>
                {#each RECORDS.filter((one) => !records.includes(one)) as one (one)}
                  <option value={one}>{one}</option>
                {/each}
              </select></td
            >
          </tr>
          {#each records as key (key)}
            <tr>
              <th scope="row">{key}</th>
              {#each setups as setup, index (index)}
                <td class:chosen={setup.name === chosen}
                  ><input
                    aria-label="{key} of {setup.name}"
                    maxlength="200"
                    value={setup.record?.[key] ?? ''}
                    onchange={(event) => record(index, key, event.currentTarget.value.trim())}
                  /></td
                >
              {/each}
            </tr>
          {/each}
          <tr>
            <th scope="row">Remark</th>
            {#each setups as setup, index (index)}
              <td class:chosen={setup.name === chosen}
                ><input
                  class="wide"
                  aria-label="Remark on {setup.name}"
                  maxlength="2000"
                  value={setup.remark ?? ''}
                  onchange={(event) => void set(index, { remark: event.currentTarget.value })}
                /></td
              >
            {/each}
          </tr>
        </tbody>
      </table>
    </div>
  {:else}
    <p class="unit">
      A setup names a wing step, a gear set, tyres, brakes, fuel and ballast, and keeps whatever
      else you write down. The tables below are what setups choose from.
    </p>
  {/if}
  <TablesPart {work} />
{/if}

<style>
  .top {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 22px;
    align-items: baseline;
    padding: 8px 0;
    font-size: 14px;
  }
  select {
    border-bottom: 1px dotted var(--ink-2);
    background: var(--paper);
    max-width: 220px;
  }
  .scroll {
    overflow-x: auto;
  }
  table {
    border-spacing: 0;
  }
  th,
  td {
    text-align: left;
    font-weight: 500;
    font-size: 14px;
    padding: 2px 16px 2px 4px;
    border-top: 1px solid var(--hair);
    white-space: nowrap;
  }
  .chosen {
    background: var(--wash);
  }
  .group td {
    padding-top: 8px;
  }
  input {
    width: 14ch;
    background: transparent;
    border-bottom: 1px dotted var(--ink-2);
  }
  input.place {
    font-size: 17px;
  }
  .wide {
    width: 20ch;
  }
  .link {
    color: var(--cool);
    text-decoration: underline;
    cursor: pointer;
  }
  .small {
    text-decoration: none;
    padding: 0 4px;
  }
  .refusal {
    color: var(--ember);
  }
</style>
