<script lang="ts">
  import type { CarEdit, Setup } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { plain } from '../parts/format'
  import CarFigure from './CarFigure.svelte'
  import TablesPart from './TablesPart.svelte'
  import type { CarWork } from './work.svelte'

  /** The car’s setups in columns: what the model computes above, what is only recorded below. */
  let { bench, view, work }: { bench: Workbench; view: View; work: CarWork } = $props()

  const car = $derived(work.car)
  const units = $derived(view.units)
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

  async function edit(change: CarEdit): Promise<string | null> {
    refusal = (await work.edit(change)) ?? ''
    return refusal || null
  }
  const set = (row: number, field: string, value: string | number | null): Promise<string | null> =>
    edit({ op: 'set_in_row', table: 'setups', row, field, value })
  function rename(row: number, name: string): void {
    if (name && name !== setups[row]?.name)
      void edit({ op: 'rename_row', table: 'setups', row, name })
  }
  const record = (setup: number, key: string, text: string): void =>
    void edit({ op: 'record', setup, key, text })
  const NAMED = [
    { field: 'wing', label: 'Wing', table: 'wings' },
    { field: 'gear_set', label: 'Gear set', table: 'gear_sets' },
    { field: 'compound', label: 'Tyres', table: 'compounds' },
  ] as const
  const rows = $derived(bench.figures.of('setup'))
  const valueOf = (setup: Setup, field: string): number | null => {
    const value = (setup as unknown as Record<string, unknown>)[field]
    return typeof value === 'number' ? value : null
  }
  const lapOf = (text: string): number | null => (Number(text) < 0 ? null : Number(text))
  const tyreWords = (lap: number | null): string =>
    lap === null ? 'warm and new' : lap === 0 ? 'out lap' : `lap ${lap}`
</script>

{#if car}
  <div class="px-0 py-2 gap-x-5.5 gap-y-1.5 flex flex-wrap items-baseline text-[14px]">
    <label
      >Setup in this plan <select
        class="bg-paper max-w-55"
        aria-label="Setup of this plan"
        value={chosen ?? ''}
        onchange={async (event) => {
          refusal =
            (await bench.editCar({ op: 'setup', name: event.currentTarget.value || null })) ?? ''
        }}
      >
        <option value="">as on the sheet</option>
        {#each setups as setup (setup.name)}<option value={setup.name}>{setup.name}</option>{/each}
      </select></label
    >
    <label
      >with tyres <select
        class="bg-paper max-w-55"
        aria-label="Lap on the tyres"
        value={lapOn ?? -1}
        onchange={async (event) => {
          refusal =
            (await bench.editCar({ op: 'tyre_lap', lap: lapOf(event.currentTarget.value) })) ?? ''
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
        >Fuel for a lap: <span class="figure"
          >{plain(units.show(bench.result.fuel_litres, 'volume'), 2)}</span
        >
        {units.unitOf('volume')},
        <span class="figure">{plain(units.show(bench.result.fuel_kg ?? 0, 'mass'), 2)}</span>
        {units.unitOf('mass')}{car.fuel_use?.litres_per_lap
          ? ', as stated'
          : `, from the engine’s work at ${plain(car.fuel_use?.g_per_kwh ?? 290, 0)} g/kWh`}</span
      >
    {/if}
    <button class="link" onclick={() => void edit({ op: 'add_row', table: 'setups' })}
      >{setups.length === 0 ? 'Create a setup' : 'Copy this setup'}</button
    >
  </div>
  {#if refusal}<p role="alert" class="refusal">{refusal}</p>{/if}
  {#if setups.length > 0}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Setups">
      <table class="ruled w-auto" data-testid="setups">
        <thead>
          <tr>
            <th scope="col">Setup</th>
            {#each setups as setup, index (index)}
              <th scope="col" class:chosen={setup.name === chosen}>
                <input
                  class="place dotted-below w-[14ch] bg-transparent text-[17px]"
                  aria-label="Name of setup {index + 1}"
                  maxlength="200"
                  value={setup.name}
                  onchange={(event) => void rename(index, event.currentTarget.value.trim())}
                />
                <button
                  class="link px-1 py-0 no-underline"
                  aria-label="Remove {setup.name}"
                  onclick={() => void edit({ op: 'remove_row', table: 'setups', row: index })}
                  >×</button
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
                    class="bg-paper max-w-55"
                    aria-label="{row.label} of {setup.name}"
                    value={setup[row.field] ?? ''}
                    onchange={(event) =>
                      void set(index, row.field, event.currentTarget.value || null)}
                  >
                    <option value="">as on the sheet</option>
                    {#each car[row.table] ?? [] as one (one.name)}
                      <option value={one.name}>{one.name}</option>
                    {/each}
                  </select></td
                >
              {/each}
            </tr>
          {/each}
          {#each rows as row (row.name)}
            <tr>
              <th scope="row">{row.label} <span class="unit">{units.unitFor(row)}</span></th>
              {#each setups as setup, index (index)}
                {@const value = valueOf(setup, row.field)}
                {@const ideal = row.field === 'brake_front_fraction' && setup.brakes_ideal}
                <td class:chosen={setup.name === chosen}>
                  {#if value === null}
                    <button
                      class="link"
                      onclick={() => void set(index, row.field, row.unstated?.usual ?? 0)}
                      >{ideal ? 'ideal' : row.unstated?.says}</button
                    >
                  {:else}
                    <CarFigure
                      label="{row.label} of {setup.name} ({units.unitFor(row)})"
                      value={units.show(value, row.quantity)}
                      {...units.fit(row)}
                      write={(next) => set(index, row.field, units.read(next, row.quantity))}
                    />
                    {#if row.unstated}
                      <button
                        class="link px-1 py-0 no-underline"
                        aria-label="Remove {row.label} of {setup.name}"
                        onclick={() => void set(index, row.field, null)}>×</button
                      >
                    {/if}
                  {/if}
                </td>
              {/each}
            </tr>
          {/each}
          <tr class="group">
            <td colspan={setups.length + 1}
              ><span class="unit">For the record only: in your own words and units</span>
              <select
                class="bg-paper max-w-55"
                aria-label="Record something else"
                value=""
                onchange={(event) => {
                  newRecord = event.currentTarget.value
                  event.currentTarget.value = ''
                  if (newRecord) record(0, newRecord, '–')
                }}
              >
                <option value="">Record…</option>
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
                    class="dotted-below w-[14ch] bg-transparent"
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
                  class="dotted-below bg-transparent w-[20ch]"
                  aria-label="Remark on {setup.name}"
                  maxlength="2000"
                  value={setup.remark ?? ''}
                  onchange={(event) => void set(index, 'remark', event.currentTarget.value)}
                /></td
              >
            {/each}
          </tr>
        </tbody>
      </table>
    </div>
  {:else}
    <p class="unit">
      A setup combines a wing step, gear set, tyres, brakes, fuel and ballast, and holds anything
      else you record. The tables below list the options.
    </p>
  {/if}
  <TablesPart {bench} {view} {work} />
{/if}

<style>
  th,
  td {
    padding: 2px 16px 2px 4px;
    white-space: nowrap;
  }
  .chosen {
    background: var(--wash);
  }
  .group td {
    padding-top: 8px;
  }
</style>
