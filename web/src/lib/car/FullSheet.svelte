<script lang="ts">
  import { answer, client, sentence, type FigureRow } from '../api/client'
  import { plain } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import PlanFigure from '../strip/PlanFigure.svelte'
  import CarFigure from './CarFigure.svelte'
  import AirTable from './AirTable.svelte'
  import TorquePart from './TorquePart.svelte'
  import type { CarWork } from './work.svelte'

  /** Every figure of the car with its unit, what is usual, and what it changes in the lap. */
  let {
    bench,
    work,
    view,
    planId,
  }: { bench: Workbench; work: CarWork; view: View; planId: number } = $props()

  const car = $derived(work.car)
  const rows = $derived(bench.figures.of('car').filter((row) => row.group !== ''))
  const groups = $derived([...new Set(rows.map((row) => row.group))])
  const ratios = $derived(car?.gearbox.ratios ?? [])
  const ratio = (gear: number, value: number | null): Promise<string | null> =>
    work.edit({ op: 'ratio', gear, value })
  async function take(field: string, value: number): Promise<void> {
    bench.change({ field, value })
    await bench.settle()
  }

  let refusals = $state.raw<string[]>([])
  let code = $state('')
  let force = $state('')
  let force_at = $state('200')
  let said = $state('')
  async function takeTyre(): Promise<void> {
    const { data, error } = await answer(
      client.GET('/api/cars/tyre', { params: { query: { code } } }),
    )
    said = data ? `${code}: rolling radius ${data.value.toFixed(4)} m` : sentence(error)
    if (data) await take('rolling_radius_m', Number(data.value.toFixed(4)))
  }
  let coefficient = $state('')
  let frontal = $state('')
  const range = (row: FigureRow, value: number): string =>
    plain(Number(view.units.show(value, row.quantity).toPrecision(3)), 4)
  const typed = (text: string): number => Number(text.replace(',', '.'))
  async function takeArea(what: 'lift_area_m2' | 'drag_area_m2', from: 'force' | 'coefficient') {
    const body =
      from === 'force'
        ? {
            force_kg: view.units.read(typed(force), 'mass'),
            speed_ms: view.units.read(typed(force_at), 'speed'),
          }
        : { coefficient: typed(coefficient), frontal_area_m2: typed(frontal) }
    const { data, error } = await answer(client.POST('/api/cars/area', { body }))
    const word = what === 'lift_area_m2' ? 'ClA' : 'CdA'
    said = data ? `${word} ${data.value.toFixed(3)} m²` : sentence(error)
    if (data) await take(what, Number(data.value.toFixed(3)))
  }
</script>

{#if car}
  <div class="columns pt-1.5 gap-6.5 flex narrow:flex-col">
    <div class="fields" data-testid="car-sheet">
      {#each groups as group (group)}
        <h2 class="figure px-0 pt-1.5 pb-px text-[18px]">{group}</h2>
        <table class="ruled">
          <colgroup><col /><col /><col /><col /></colgroup>
          <thead class="sr-only">
            <tr><th>Figure</th><th>Value</th><th>Usual</th><th>Effect</th></tr>
          </thead>
          <tbody>
            {#each rows.filter((row) => row.group === group) as row (row.name)}
              {@const value = bench.figure(row.name)}
              {@const [low, high] = [row.low ?? -Infinity, row.high ?? Infinity]}
              {@const odd = value !== null && (value < low || value > high)}
              {@const holder = bench.assumptions?.lives_in[row.name]}
              <tr>
                <th scope="row">{row.label}</th>
                <td class="value whitespace-nowrap"
                  ><PlanFigure {bench} {view} {row} size="16px" optional /></td
                >
                <td class="unit" class:odd
                  >{#if row.low !== null}{odd ? 'outside ' : ''}{range(row, low)}–{range(
                      row,
                      high,
                    )}{/if}</td
                >
                <td class="unit"
                  >{#if holder}<b>of {holder}.</b>{/if}
                  {row.changes}</td
                >
              </tr>
            {/each}
            {#if group === 'Gears'}
              {#each ratios as one, index (index)}
                <tr>
                  <th scope="row">Gear {index + 1}</th>
                  <td class="value whitespace-nowrap"
                    ><CarFigure
                      label="Ratio of gear {index + 1}"
                      value={one}
                      decimals={3}
                      step={0.02}
                      fine={0.005}
                      write={(next) => ratio(index, next)}
                    />
                    {#if index === ratios.length - 1 && ratios.length > 1}
                      <button
                        class="link px-1 py-0 no-underline"
                        aria-label="Remove gear {index + 1}"
                        onclick={() => void ratio(index, null)}>×</button
                      >
                    {/if}</td
                  >
                  <td></td>
                  <td class="unit"
                    >{index === ratios.length - 1 ? 'Top gear' : ''}
                    {#if index === ratios.length - 1}
                      <button class="link" onclick={() => void work.edit({ op: 'add_gear' })}
                        >Add a gear</button
                      >
                    {/if}</td
                  >
                </tr>
              {/each}
            {/if}
            {#if group === 'Tyres'}
              <tr>
                <th scope="row">From the tyre code</th>
                <td class="value whitespace-nowrap" colspan="2"
                  ><input aria-label="Tyre code" placeholder="205/55 R16" bind:value={code} />
                  <button class="link" disabled={code === ''} onclick={() => void takeTyre()}
                    >Apply</button
                  ></td
                >
                <td class="unit"
                  ><span role="status">{said.includes('radius') ? said : ''}</span></td
                >
              </tr>
            {/if}
            {#if group === 'Air'}
              {#each [{ from: 'force', label: 'As a force' }, { from: 'coefficient', label: 'As a coefficient' }] as const as way (way.from)}
                {@const empty = way.from === 'force' ? force === '' : !coefficient || !frontal}
                <tr>
                  <th scope="row">{way.label}</th>
                  <td class="value whitespace-nowrap" colspan="2"
                    >{#if way.from === 'force'}
                      <input
                        aria-label="Force ({view.units.unitOf('mass')})"
                        size="5"
                        placeholder={view.units.unitOf('mass')}
                        bind:value={force}
                      />
                      {view.units.unitOf('mass')} at
                      <input
                        aria-label="At a speed ({view.units.speedUnit})"
                        size="4"
                        bind:value={force_at}
                      />
                      {view.units.speedUnit}
                    {:else}
                      <input
                        aria-label="Coefficient of drag or downforce"
                        size="5"
                        placeholder="C"
                        bind:value={coefficient}
                      />
                      on
                      <input
                        aria-label="Frontal area (m²)"
                        size="4"
                        placeholder="A"
                        bind:value={frontal}
                      /> m²
                    {/if}</td
                  >
                  <td class="unit"
                    ><button
                      class="link"
                      aria-label="as downforce, {way.label.toLowerCase()}"
                      disabled={empty}
                      onclick={() => void takeArea('lift_area_m2', way.from)}>as downforce</button
                    >
                    <button
                      class="link"
                      aria-label="as drag, {way.label.toLowerCase()}"
                      disabled={empty}
                      onclick={() => void takeArea('drag_area_m2', way.from)}>as drag</button
                    >
                    {#if way.from === 'force'}<span role="status"
                        >{said.includes('A ') ? said : ''}</span
                      >{/if}</td
                  >
                </tr>
              {/each}
            {/if}
          </tbody>
        </table>
      {/each}
    </div>
    <div class="flex-none w-100 max-w-full narrow:w-full">
      <TorquePart {work} {planId} units={view.units} />
      <AirTable {work} {view} />
      <p class="unit pt-2">
        This car as <a class="link" href="/api/plans/{planId}/car/document" download>a document</a>
      </p>
      <p class="unit">
        <label class="link"
          >Load a car document<input
            type="file"
            class="sr-only"
            accept=".json"
            onchange={async (event) => {
              const file = event.currentTarget.files?.[0]
              event.currentTarget.value = ''
              if (file) refusals = await work.takeDocument(await file.text())
            }}
          /></label
        >, saved as a new car for this plan
      </p>
      {#if refusals.length > 0}
        <ul role="alert" class="refusal">
          {#each refusals as one (one)}<li>{one}</li>{/each}
        </ul>
      {/if}
      {#if car.note}<p class="unit">{car.note}</p>{/if}
    </div>
  </div>
{/if}

<style>
  .fields {
    flex: 1;
    min-width: 0;
    max-height: calc(100vh - 214px);
    min-height: 300px;
    overflow-y: auto;
  }
  table {
    table-layout: fixed;
  }
  th,
  td {
    padding: 2px 8px 2px 0;
    vertical-align: baseline;
  }
  col:nth-child(1) {
    width: 22%;
  }
  col:nth-child(2) {
    width: 25%;
  }
  col:nth-child(3) {
    width: 11%;
  }
  .odd {
    font-weight: 700;
    color: var(--ink);
  }
  input {
    width: 12ch;
    background: transparent;
    border-bottom: 1px dotted var(--ink-2);
  }
  input[size] {
    width: 6ch;
  }
  @media (max-width: 900px) {
    .fields {
      max-height: none;
    }
  }
</style>
