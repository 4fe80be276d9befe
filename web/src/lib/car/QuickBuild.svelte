<script lang="ts">
  import { untrack } from 'svelte'
  import { answer, client, sentences, type QuickBuilt, type QuickCar } from '../api/client'
  import { KINDS, twoWheeled, type Kind } from '../start/kinds'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { plain, timeDifference } from '../parts/format'
  import type { Quantity } from '../parts/units'
  import { KnownEntry, type Known } from './knownEntry.svelte'
  import { mentioned, STATEMENTS, shownFigure, type Statement } from './statements'

  /** A car from what a person knows of it; each statement is set beside what the model does. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  const units = $derived(view.units)
  const entry = new KnownEntry(() => view.units)
  const known = $derived(entry.known)
  const optionsOf = (name: string) =>
    bench.figures.of('car').find((row) => row.name === name)?.options ?? []
  let built = $state.raw<QuickBuilt | null>(null)
  let faults = $state.raw<string[]>([])
  let busy = $state(false)
  let asked = 0

  // A car that was built from known figures is gone on from with these.
  let takenFor = ''
  $effect(() => {
    const open = bench.open
    const mark = `${open?.id}|${open?.car.id}`
    if (!open || takenFor === mark) return
    takenFor = mark
    untrack(() => entry.goOnFrom(open.plan.car))
  })
  const wanted = $derived<QuickCar>(entry.wanted(bench.open?.plan.car))

  async function build(): Promise<void> {
    const mine = ++asked
    busy = true
    const { data, error } = await answer(
      client.POST('/api/cars/quick', {
        body: wanted,
        params: { query: bench.open ? { plan_id: bench.open.id } : {} },
      }),
    )
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
      : await bench.editCar({ op: 'replace', car: built.applied ?? built.car })
    faults = refused ? [refused] : []
    if (!refused) {
      bench.say(
        fresh ? `${built.car.name}: a separate car, used by this plan.` : 'The car is rebuilt.',
      )
      view.turnTo('lap')
    }
  }
  const rowOf = (one: Statement) =>
    built?.rows.find((row) => row.quantity === one.quantity && near(row.at, entry.at(one)))
  const near = (a: number | null, b: number | null): boolean =>
    a === b || (a !== null && b !== null && Math.abs(a - b) < 1e-6 * Math.abs(b))
</script>

{#snippet figure(
  field: string,
  label: string,
  decimals: number,
  width: string = '',
  quantity: Quantity = 'none',
)}
  <input
    class={width}
    aria-label={label}
    inputmode="decimal"
    value={entry.text(field, (si) => units.show(si, quantity), decimals)}
    oninput={(event) =>
      entry.type(field, event.currentTarget.value, (shown) => units.read(shown, quantity))}
    onblur={() => entry.leave()}
  />
{/snippet}

<div class="columns pt-2 gap-10 flex flex-wrap">
  <div class="w-160 max-w-full">
    <p class="unit">
      Enter what you know and leave the rest blank. Mass, power, downforce and gears are kept as
      stated; the rest is fitted as you type.
      {#if entry.stated.length > 0}<button class="link" onclick={() => entry.clear()}>Clear</button
        >{/if}
    </p>
    <table class="ruled">
      <tbody>
        <tr>
          <th scope="row">Name</th>
          <td colspan="3"
            ><input
              class="name"
              aria-label="Name of the car"
              value={known.name}
              oninput={(event) => entry.set({ name: event.currentTarget.value })}
            /></td
          >
        </tr>
        <tr>
          <th scope="row">It is</th>
          <td colspan="3"
            ><select
              class="bg-paper"
              aria-label="Kind"
              value={known.kind}
              onchange={(event) => entry.set({ kind: event.currentTarget.value as Kind })}
            >
              {#each KINDS as one (one.kind)}<option value={one.kind}>{one.label}</option>{/each}
            </select>
            {#if !twoWheeled(known.kind)}
              <select
                class="bg-paper"
                aria-label="Driven axle"
                value={known.driven}
                onchange={(event) =>
                  entry.set({ driven: event.currentTarget.value as Known['driven'] })}
              >
                <option value="rear">rear-wheel drive</option>
                <option value="front">front-wheel drive</option>
                <option value="all">all-wheel drive</option>
              </select>
            {/if}</td
          >
        </tr>
        <tr>
          <th scope="row">Gears</th>
          <td colspan="3"
            >{#if known.ratios.length === 0}{@render figure('gears', 'Number of gears', 0, 'few')}
              or{/if} ratios
            <input
              class="ratios"
              aria-label="Gear ratios, first gear first"
              placeholder="3.1 2.2 1.7 1.4"
              value={entry.ratios}
              oninput={(event) => entry.typeRatios(event.currentTarget.value)}
              onblur={() => entry.leave()}
            />, final drive {@render figure('final_drive', 'Final drive (to 1)', 4, 'few')}</td
          >
        </tr>
        <tr>
          <th scope="row">Power peaks at</th>
          <td colspan="3"
            >{@render figure('power_rpm', 'Power peaks at (rpm)', 0)} rpm, limit
            {@render figure('rev_limit_rpm', 'Rev limit (rpm)', 0)} rpm</td
          >
        </tr>
        <tr>
          <th scope="row">Power is</th>
          <td colspan="3"
            ><select
              class="bg-paper"
              aria-label="How the engine takes its air"
              value={known.aspiration}
              onchange={(event) => entry.set({ aspiration: event.currentTarget.value })}
            >
              {#each optionsOf('aspiration') as option (option.name)}
                <option value={`${option.value}`}>{option.name}</option>
              {/each}
            </select>,
            <select
              class="bg-paper"
              aria-label="Power stated to"
              value={known.standard}
              onchange={(event) => entry.set({ standard: event.currentTarget.value })}
            >
              {#each optionsOf('power_standard') as option (option.name)}
                <option value={`${option.value}`}>to {option.name}</option>
              {/each}
            </select>
            <span class="block">
              or as measured at
              {@render figure(
                'temp',
                `Air when the power was measured (${units.unitOf('temperature')})`,
                1,
                'few',
                'temperature',
              )}
              {units.unitOf('temperature')},
              {@render figure(
                'pressure',
                `Pressure when the power was measured (${units.unitOf('air_pressure')})`,
                2,
                'few',
                'air_pressure',
              )}
              {units.unitOf('air_pressure')},
              {@render figure('humidity', 'Humidity when the power was measured (%)', 0, 'few')} %
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
              value={known.tyre}
              oninput={(event) => entry.set({ tyre: event.currentTarget.value })}
            /></td
          >
        </tr>
        {#each STATEMENTS as one (one.id)}
          {@const row = rowOf(one)}
          <tr class:off={row && Math.abs(row.misfit_pct) > 3}>
            <th scope="row">{one.label(units, entry.at(one))}</th>
            <td
              ><input
                aria-label="{one.label(units, entry.at(one))} ({one.unit(units)})"
                inputmode="decimal"
                value={entry.text(one.id, (si) => one.show(si, units), one.decimals + 1)}
                oninput={(event) => entry.enter(one, event.currentTarget.value)}
                onblur={() => entry.leave()}
              />
              <span class="unit">{one.unit(units)}</span>
              {#if one.at?.asked}
                <span class="unit">at</span>
                <input
                  class="few"
                  aria-label="{one.label(units, entry.at(one))}: at ({units.speedUnit})"
                  inputmode="decimal"
                  value={entry.text(`${one.id}@`, units.speed, 1) ||
                    (entry.typing(`${one.id}@`) ? '' : plain(units.speed(entry.at(one) ?? 0), 1))}
                  oninput={(event) =>
                    entry.type(`${one.id}@`, event.currentTarget.value, (shown) =>
                      units.read(shown, 'speed'),
                    )}
                  onblur={() => entry.leave()}
                />
                <span class="unit">{units.speedUnit}</span>
              {/if}</td
            >
            <td class="number figure text-right text-[17px]" data-testid="model-{one.id}"
              >{row ? (row.model === null ? 'never' : shownFigure(one, row.model, units)) : ''}</td
            >
            <td class="number unit text-right"
              >{row ? `${timeDifference(row.misfit_pct, 1)} %` : ''}</td
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
      {#if (built.changes?.length ?? 0) > 0}
        <details class="pt-1.5">
          <summary class="figure cursor-pointer text-[18px]"
            >Applied to {bench.open?.car.name ?? 'this car'}, {built.changes?.length} figures change</summary
          >
          <ul class="list-inside list-[square]" data-testid="build-changes">
            {#each built.changes ?? [] as one, index (index)}<li>{one}</li>{/each}
          </ul>
        </details>
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
  input.ratios {
    width: 24ch;
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
