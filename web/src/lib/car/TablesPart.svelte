<script lang="ts">
  import type { CarEdit, FigureRow } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { plain } from '../parts/format'
  import CarFigure from './CarFigure.svelte'
  import type { CarWork } from './work.svelte'

  /** What setups choose from: wing steps, gear sets, tyre compounds. */
  let { bench, view, work }: { bench: Workbench; view: View; work: CarWork } = $props()

  const units = $derived(view.units)

  const car = $derived(work.car)
  let refusal = $state('')
  type Table = 'wings' | 'gear_sets' | 'compounds'
  type Value = Extract<CarEdit, { op: 'set_in_row' }>['value']
  async function edit(change: CarEdit): Promise<string | null> {
    refusal = (await work.edit(change)) ?? ''
    return refusal || null
  }
  const set = (table: Table, row: number, field: string, value: Value): Promise<string | null> =>
    edit({ op: 'set_in_row', table, row, field, value })
  /** A name changes wherever a setup says it. */
  function rename(table: Table, row: number, name: string): void {
    if (name && name !== car?.[table]?.[row]?.name)
      void edit({ op: 'rename_row', table, row, name })
  }
  const add = (table: Table): void => void edit({ op: 'add_row', table })
  const remove = (table: Table, row: number): void => void edit({ op: 'remove_row', table, row })
  const figures = $derived(bench.figures.of('compound'))
  const valueOf = (row: object, field: string): number =>
    Number((row as Record<string, unknown>)[field] ?? 0)
  const numbers = (text: string): number[] =>
    text
      .split(/[;\s]+|,\s+/)
      .filter((one) => one !== '')
      .map((one) => Number(one.replace(',', '.')))
</script>

{#snippet nameCell(table: Table, index: number, name: string)}
  <th scope="row"
    ><input
      class="place text-[16px]"
      aria-label="Name of {name}"
      maxlength="200"
      value={name}
      onchange={(event) => rename(table, index, event.currentTarget.value.trim())}
    /><button
      class="link px-1 py-0 text-[14px] no-underline"
      aria-label="Remove {name}"
      onclick={() => remove(table, index)}>×</button
    ></th
  >
{/snippet}

{#snippet figureCell(table: Table, index: number, row: FigureRow, one: { name: string })}
  <CarFigure
    label="{row.label} of {one.name} ({units.unitFor(row)})"
    value={units.show(valueOf(one, row.field), row.quantity)}
    {...units.fit(row)}
    width="6ch"
    write={(next) => set(table, index, row.field, units.read(next, row.quantity))}
  />
{/snippet}

{#if car}
  {#if refusal}<p role="alert" class="refusal">{refusal}</p>{/if}
  <div class="columns pt-3.5 gap-x-10 gap-y-2.5 flex flex-wrap">
    <section class="max-w-full overflow-x-auto" aria-label="Wing steps">
      <h2 class="figure text-[18px]">Wing</h2>
      <table class="ruled w-auto" data-testid="wings">
        <thead>
          <tr>
            <th scope="col">Step</th><th scope="col">ClA m²</th><th scope="col">CdA m²</th>
            <th scope="col">Front</th>
          </tr>
        </thead>
        <tbody>
          {#each car.wings ?? [] as wing, index (index)}
            <tr>
              {@render nameCell('wings', index, wing.name)}
              {#each bench.figures.of('wing') as row (row.name)}
                <td>{@render figureCell('wings', index, row, wing)}</td>
              {/each}
            </tr>
          {/each}
        </tbody>
      </table>
      <button class="link text-[14px]" onclick={() => add('wings')}>Add a step</button>
    </section>
    <section class="max-w-full overflow-x-auto" aria-label="Gear sets">
      <h2 class="figure text-[18px]">Gears</h2>
      <table class="ruled w-auto" data-testid="gear-sets">
        <thead>
          <tr>
            <th scope="col">Set</th><th scope="col">Ratios</th><th scope="col">Final</th>
          </tr>
        </thead>
        <tbody>
          {#each car.gear_sets ?? [] as one, index (index)}
            <tr>
              {@render nameCell('gear_sets', index, one.name)}
              <td
                ><input
                  class="ratios"
                  aria-label="Ratios of {one.name}"
                  value={one.ratios.join('  ')}
                  onchange={(event) =>
                    void set('gear_sets', index, 'ratios', numbers(event.currentTarget.value))}
                /></td
              >
              {#each bench.figures.of('gear_set') as row (row.name)}
                <td>{@render figureCell('gear_sets', index, row, one)}</td>
              {/each}
            </tr>
          {/each}
        </tbody>
      </table>
      <button class="link text-[14px]" onclick={() => add('gear_sets')}>Add a set</button>
    </section>
    <section class="max-w-full overflow-x-auto" aria-label="Tyre compounds">
      <h2 class="figure text-[18px]">Tyres</h2>
      <table class="ruled w-auto" data-testid="compounds">
        <thead>
          <tr>
            <th scope="col">Compound</th><th scope="col">Grip</th><th scope="col">Warm-up</th>
            <th scope="col">Degradation %/lap</th><th scope="col">Window {units.temperatureUnit}</th
            >
            <th scope="col">Outside %/10°</th><th scope="col">In water</th>
          </tr>
        </thead>
        <tbody>
          {#each car.compounds ?? [] as one, index (index)}
            <tr>
              {@render nameCell('compounds', index, one.name)}
              <td>
                {#each figures.slice(0, 1) as row (row.name)}
                  {@render figureCell('compounds', index, row, one)}
                {/each}
              </td>
              <td
                ><input
                  aria-label="Warm-up factors of {one.name}, out lap first"
                  value={(one.warm_up ?? []).join('  ')}
                  onchange={(event) =>
                    void set('compounds', index, 'warm_up', numbers(event.currentTarget.value))}
                /></td
              >
              {#each [figures.slice(1, 2), figures.slice(2, 4), figures.slice(4)] as together, place (place)}
                <td>
                  {#each together as row (row.name)}
                    {@render figureCell('compounds', index, row, one)}
                  {/each}
                </td>
              {/each}
              <td
                ><input
                  class="ratios"
                  aria-label="Grip of {one.name} against wetness, as percent:factor"
                  placeholder="a dry tyre’s"
                  value={(one.wetness ?? [])
                    .map((point) => `${point.wetness_pct}:${point.grip_factor}`)
                    .join('  ')}
                  onchange={(event) => {
                    const points = event.currentTarget.value
                      .split(/\s+/)
                      .filter((part) => part.includes(':'))
                      .map((part) => {
                        const [wet = '', grip = ''] = part.split(':')
                        return { wetness_pct: Number(wet), grip_factor: Number(grip) }
                      })
                    void set('compounds', index, 'wetness', points.length > 0 ? points : null)
                  }}
                /></td
              >
            </tr>
          {/each}
        </tbody>
      </table>
      <button class="link text-[14px]" onclick={() => add('compounds')}>Add a compound</button>
      <p class="unit max-w-140">
        A new compound starts with typical dry values: 7 % less grip on the out lap, 2 % on the
        next, then 0.15 % lost per lap, full grip from {plain(units.show(15, 'temperature'), 0)} to
        {plain(units.show(45, 'temperature'), 0)}
        {units.temperatureUnit} track temperature. These are assumptions until you change them.
      </p>
    </section>
  </div>
{/if}

<style>
  th,
  td {
    padding: 1px 12px 1px 0;
    white-space: nowrap;
  }
  input {
    width: 12ch;
    background: transparent;
    border-bottom: 1px dotted var(--ink-2);
  }
  input.ratios {
    width: 26ch;
  }
</style>
