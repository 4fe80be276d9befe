<script lang="ts">
  import {
    answer,
    client,
    sentences,
    type QuickBuilt,
    type QuickCar,
    type Stated,
  } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { plain, typedNumber } from '../parts/format'
  import { mentioned, STATEMENTS, shownFigure, type Statement } from './statements'

  /** A car from what a person knows of it; each statement is set beside what the model does. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  const units = $derived(view.units)
  let name = $state('New car')
  let kind = $state<'car' | 'motorcycle'>('car')
  let driven = $state<'rear' | 'front' | 'all'>('rear')
  let gears = $state('6')
  let power_rpm = $state('')
  let rev_limit = $state('')
  let tyre = $state('')
  let aspiration = $state('natural')
  let standard = $state('iso_1585')
  let measured_temp = $state('')
  let measured_pressure = $state('')
  let measured_humidity = $state('')
  const optionsOf = (name: string) =>
    bench.figures.of('car').find((row) => row.name === name)?.options ?? []
  let typed = $state<Record<string, string>>({})
  let at = $state<Record<string, string>>({})
  let built = $state.raw<QuickBuilt | null>(null)
  let faults = $state.raw<string[]>([])
  let busy = $state(false)
  let asked = 0

  const number = (text: string | undefined): number | null =>
    text === undefined || text.trim() === '' ? null : typedNumber(text)
  const read = (text: string, quantity: 'temperature' | 'air_pressure'): number | null => {
    const value = number(text)
    return value === null ? null : units.read(value, quantity)
  }
  const atOf = (one: Statement): number | null => {
    if (!one.at) return null
    if (one.at.fixed) return one.at.fixed(units)
    const value = number(at[one.id] ?? one.at.usual(units))
    return value === null ? null : units.read(value, 'speed')
  }
  const stated = $derived(
    STATEMENTS.flatMap((one): Stated[] => {
      const value = number(typed[one.id])
      if (value === null || value <= 0) return []
      return [{ quantity: one.quantity, value: one.read(value, units), at: atOf(one) }]
    }),
  )
  const wanted = $derived<QuickCar>({
    name: name.trim() || 'New car',
    kind,
    driven,
    gears: number(gears) ?? 6,
    power_rpm: number(power_rpm),
    rev_limit_rpm: number(rev_limit),
    tyre_code: tyre,
    intake: {
      aspiration,
      standard,
      stated_temp_c: read(measured_temp, 'temperature'),
      stated_pressure_hpa: read(measured_pressure, 'air_pressure'),
      stated_humidity_pct: number(measured_humidity),
      // What is left out is as usual: the server knows it.
    } as NonNullable<QuickCar['intake']>,
    fuel_kg: 20,
    driver_kg: 80,
    stated,
  })

  async function build(): Promise<void> {
    const mine = ++asked
    busy = true
    const { data, error } = await answer(client.POST('/api/cars/quick', { body: wanted }))
    if (mine !== asked) return
    busy = false
    built = data ?? null
    faults = data ? [] : sentences(error)
  }
  // The fit follows the typing, half a second after it stops.
  $effect(() => {
    void wanted
    const waiting = setTimeout(() => void build(), 500)
    return () => clearTimeout(waiting)
  })

  async function take(fresh: boolean): Promise<void> {
    if (!built) return
    const refused = fresh
      ? await bench.takeNewCar(built.car)
      : await bench.editCar({ op: 'replace', car: built.car })
    faults = refused ? [refused] : []
    if (!refused) {
      bench.say(
        fresh ? `${built.car.name}: a separate car, used by this plan.` : 'The car is rebuilt.',
      )
      view.turnTo('lap')
    }
  }
  const rowOf = (one: Statement) =>
    built?.rows.find((row) => row.quantity === one.quantity && near(row.at, atOf(one)))
  const near = (a: number | null, b: number | null): boolean =>
    a === b || (a !== null && b !== null && Math.abs(a - b) < 1e-6 * Math.abs(b))
</script>

<div class="columns pt-2 gap-10 flex flex-wrap">
  <div class="w-160 max-w-full">
    <p class="unit">
      Enter what you know and leave the rest blank. The model is fitted as you type.
    </p>
    <table class="ruled">
      <tbody>
        <tr>
          <th scope="row">Name</th>
          <td colspan="3"><input class="name" aria-label="Name of the car" bind:value={name} /></td>
        </tr>
        <tr>
          <th scope="row">It is</th>
          <td colspan="3"
            ><select class="bg-paper" aria-label="Kind" bind:value={kind}>
              <option value="car">a car</option>
              <option value="motorcycle">a motorcycle</option>
            </select>
            {#if kind === 'car'}
              <select class="bg-paper" aria-label="Driven axle" bind:value={driven}>
                <option value="rear">rear-wheel drive</option>
                <option value="front">front-wheel drive</option>
                <option value="all">all-wheel drive</option>
              </select>
            {/if}
            <input
              aria-label="Number of gears"
              class="few"
              inputmode="numeric"
              bind:value={gears}
            /> gears</td
          >
        </tr>
        <tr>
          <th scope="row">Power peaks at</th>
          <td colspan="3"
            ><input aria-label="Power peaks at (rpm)" inputmode="decimal" bind:value={power_rpm} />
            rpm, limit
            <input aria-label="Rev limit (rpm)" inputmode="decimal" bind:value={rev_limit} /> rpm</td
          >
        </tr>
        <tr>
          <th scope="row">Power is</th>
          <td colspan="3"
            ><select
              class="bg-paper"
              aria-label="How the engine takes its air"
              bind:value={aspiration}
            >
              {#each optionsOf('aspiration') as option (option.name)}
                <option value={`${option.value}`}>{option.name}</option>
              {/each}
            </select>,
            <select class="bg-paper" aria-label="Power stated to" bind:value={standard}>
              {#each optionsOf('power_standard') as option (option.name)}
                <option value={`${option.value}`}>to {option.name}</option>
              {/each}
            </select>
            <span class="block">
              or as measured at
              <input
                aria-label="Air when the power was measured ({units.unitOf('temperature')})"
                class="few"
                inputmode="decimal"
                bind:value={measured_temp}
              />
              {units.unitOf('temperature')},
              <input
                aria-label="Pressure when the power was measured ({units.unitOf('air_pressure')})"
                class="few"
                inputmode="decimal"
                bind:value={measured_pressure}
              />
              {units.unitOf('air_pressure')},
              <input
                aria-label="Humidity when the power was measured (%)"
                class="few"
                inputmode="decimal"
                bind:value={measured_humidity}
              /> %
            </span></td
          >
        </tr>
        <tr>
          <th scope="row">Driven tyre</th>
          <td colspan="3"
            ><input
              class="name"
              aria-label="Tyre code"
              placeholder="205/55 R16, or 0.31 m"
              bind:value={tyre}
            /></td
          >
        </tr>
        {#each STATEMENTS as one (one.id)}
          {@const row = rowOf(one)}
          <tr class:off={row && Math.abs(row.misfit_pct) > 3}>
            <th scope="row">{one.label(units)}</th>
            <td
              ><input
                aria-label="{one.label(units)} ({one.unit(units)})"
                inputmode="decimal"
                value={typed[one.id] ?? ''}
                oninput={(event) => (typed = { ...typed, [one.id]: event.currentTarget.value })}
              />
              <span class="unit">{one.unit(units)}</span>
              {#if one.at && !one.at.fixed}
                <span class="unit">at</span>
                <input
                  class="few"
                  aria-label="{one.label(units)}: at ({units.speedUnit})"
                  inputmode="decimal"
                  value={at[one.id] ?? one.at.usual(units)}
                  oninput={(event) => (at = { ...at, [one.id]: event.currentTarget.value })}
                />
                <span class="unit">{units.speedUnit}</span>
              {/if}</td
            >
            <td class="number figure text-right text-[17px]" data-testid="model-{one.id}"
              >{row ? (row.model === null ? 'never' : shownFigure(one, row.model, units)) : ''}</td
            >
            <td class="number unit text-right"
              >{row
                ? `${row.misfit_pct > 0 ? '+' : row.misfit_pct < 0 ? '−' : '±'}${plain(Math.abs(row.misfit_pct), 1)} %`
                : ''}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  <div class="found flex-1 min-w-80 max-w-140 text-[15px]" aria-live="polite">
    {#if faults.length > 0}
      <ul role="alert" class="refusal list-inside list-[square]">
        {#each faults as fault (fault)}<li>{fault}</li>{/each}
      </ul>
    {/if}
    <p class="pb-2 gap-2 flex flex-wrap items-baseline">
      <button
        class="btn btn-sm btn-primary"
        disabled={!built || busy}
        onclick={() => void take(true)}>Save as a new car for this plan</button
      >
      <button
        class="btn btn-sm btn-outline max-w-full"
        disabled={!built || busy}
        onclick={() => void take(false)}
        ><span class="truncate">Apply to {bench.open?.car.name ?? 'this car'}</span></button
      >
      <span class="unit">{busy ? 'Fitting…' : ''}</span>
    </p>
    {#if built}
      {#if built.contradictions.length > 0}
        <h2 class="figure px-0 pt-1.5 pb-0.5 text-[18px]">These figures contradict each other</h2>
        <ul class="list-inside list-[square]" data-testid="contradictions">
          {#each built.contradictions as one, index (index)}
            <li>{mentioned(one, units)}</li>
          {/each}
        </ul>
        {#if built.contradictions.length > 1}
          <p class="unit">One of them is wrong, or something else is unusual.</p>
        {/if}
      {:else if built.rows.length > 0}
        <p>The figures agree: the model matches each of them within a few per cent.</p>
      {/if}
      {#if built.assumptions.length > 0}
        <h2 class="figure px-0 pt-1.5 pb-0.5 text-[18px]">
          Assumed: not determined by what you entered
        </h2>
        <table class="ruled" data-testid="assumed">
          <tbody>
            {#each built.assumptions as one (one.figure)}
              {@const shown = (value: number): number => units.show(value, one.quantity)}
              {@const say = (value: number): string =>
                plain(shown(value), shown(value) > 50 ? 0 : 3)}
              {@const about = (value: number): string =>
                plain(Number(shown(value).toPrecision(2)), 3)}
              <tr>
                <th scope="row">{one.label}</th>
                <td class="number figure text-right text-[17px]">{say(one.value)}</td>
                <td class="unit">{units.unitFor(one)}</td>
                <td class="unit">usually {about(one.low)} to {about(one.high)}</td>
              </tr>
            {/each}
          </tbody>
        </table>
      {/if}
    {/if}
  </div>
</div>

<style>
  th,
  td {
    padding: 2px 10px 2px 0;
    white-space: nowrap;
  }
  .off td.figure {
    text-decoration: underline wavy;
  }
  input {
    width: 8ch;
    background: transparent;
    border-bottom: 1px dotted var(--ink-2);
    font-size: 16px;
  }
  input.name {
    width: 26ch;
  }
  input.few {
    width: 5ch;
  }
  @media (max-width: 560px) {
    th,
    td {
      white-space: normal;
    }
    input.name {
      width: 100%;
    }
    .found {
      min-width: 0;
    }
  }
</style>
