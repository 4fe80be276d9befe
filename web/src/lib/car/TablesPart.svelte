<script lang="ts">
  import type { Car } from '../api/client'
  import CarFigure from './CarFigure.svelte'
  import type { CarWork } from './work.svelte'

  /** What setups choose from: wing steps, gear sets, tyre compounds. */
  let { work }: { work: CarWork } = $props()

  const car = $derived(work.car)
  let refusal = $state('')
  type Table = 'wings' | 'gear_sets' | 'compounds'
  async function write(change: (car: Car) => Car): Promise<string | null> {
    refusal = (await work.write(change)) ?? ''
    return refusal || null
  }
  function set(table: Table, index: number, change: object): Promise<string | null> {
    return write((whole) => ({
      ...whole,
      [table]: (whole[table] ?? []).map((one, other) =>
        other === index ? { ...one, ...change } : one,
      ),
    }))
  }
  /** A name changes wherever a setup says it. */
  function rename(table: Table, index: number, name: string): void {
    const field = { wings: 'wing', gear_sets: 'gear_set', compounds: 'compound' }[table]
    const before = car?.[table]?.[index]?.name
    if (!name || name === before) return
    void write((whole) => ({
      ...whole,
      [table]: (whole[table] ?? []).map((one, other) => (other === index ? { ...one, name } : one)),
      setups: (whole.setups ?? []).map((setup) =>
        (setup as unknown as Record<string, unknown>)[field] === before
          ? { ...setup, [field]: name }
          : setup,
      ),
    }))
  }
  function free(table: Table, word: string): string {
    const names = (car?.[table] ?? []).map((one) => one.name)
    let number = names.length + 1
    while (names.includes(`${word} ${number}`)) number += 1
    return `${word} ${number}`
  }
  function addWing(): void {
    const aero = car?.wings?.at(-1) ?? car?.aero
    if (!aero) return
    const { lift_area_m2, drag_area_m2, front_fraction } = aero
    void write((whole) => ({
      ...whole,
      wings: [
        ...(whole.wings ?? []),
        {
          name: free('wings', 'Step'),
          lift_area_m2: lift_area_m2 ?? 0,
          drag_area_m2,
          front_fraction: front_fraction ?? 0.5,
        },
      ],
    }))
  }
  function addGears(): void {
    if (!car) return
    const { ratios, final_drive } = car.gearbox
    void write((whole) => ({
      ...whole,
      gear_sets: [
        ...(whole.gear_sets ?? []),
        { name: free('gear_sets', 'Set'), ratios, final_drive },
      ],
    }))
  }
  function addCompound(): void {
    void write((whole) => ({
      ...whole,
      compounds: [
        ...(whole.compounds ?? []),
        {
          name: free('compounds', 'Compound'),
          grip_factor: 1,
          warm_up: [0.93, 0.98],
          fade_pct: 0.15,
          window_low_c: 15,
          window_high_c: 45,
          off_window_pct: 2,
        },
      ],
    }))
  }
  const remove = (table: Table, index: number): void =>
    void write((whole) => ({
      ...whole,
      [table]: (whole[table] ?? []).filter((_, other) => other !== index),
    }))
  const numbers = (text: string): number[] =>
    text
      .split(/[;\s]+|,\s+/)
      .filter((one) => one !== '')
      .map((one) => Number(one.replace(',', '.')))
</script>

{#snippet nameCell(table: Table, index: number, name: string)}
  <th scope="row"
    ><input
      class="place"
      aria-label="Name of {name}"
      maxlength="200"
      value={name}
      onchange={(event) => rename(table, index, event.currentTarget.value.trim())}
    /><button class="link small" aria-label="Take {name} away" onclick={() => remove(table, index)}
      >×</button
    ></th
  >
{/snippet}

{#if car}
  {#if refusal}<p role="alert" class="refusal">{refusal}</p>{/if}
  <div class="columns">
    <section aria-label="Wing steps">
      <h2 class="figure">Wing</h2>
      <table data-testid="wings">
        <thead>
          <tr>
            <th scope="col">Step</th><th scope="col">ClA m²</th><th scope="col">CdA m²</th>
            <th scope="col">On the front</th>
          </tr>
        </thead>
        <tbody>
          {#each car.wings ?? [] as wing, index (index)}
            <tr>
              {@render nameCell('wings', index, wing.name)}
              {#each [{ field: 'lift_area_m2', label: 'Downforce', step: 0.05 }, { field: 'drag_area_m2', label: 'Drag', step: 0.01 }, { field: 'front_fraction', label: 'Front share', step: 0.005 }] as const as one (one.field)}
                <td
                  ><CarFigure
                    label="{one.label} of wing {wing.name}"
                    value={wing[one.field]}
                    decimals={3}
                    step={one.step}
                    fine={one.step / 5}
                    width="6ch"
                    write={(next) => set('wings', index, { [one.field]: next })}
                  /></td
                >
              {/each}
            </tr>
          {/each}
        </tbody>
      </table>
      <button class="link" onclick={addWing}>add a step</button>
    </section>
    <section aria-label="Gear sets">
      <h2 class="figure">Gears</h2>
      <table data-testid="gear-sets">
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
                    void set('gear_sets', index, { ratios: numbers(event.currentTarget.value) })}
                /></td
              >
              <td
                ><CarFigure
                  label="Final drive of {one.name}"
                  value={one.final_drive}
                  decimals={3}
                  step={0.05}
                  fine={0.01}
                  width="6ch"
                  write={(final_drive) => set('gear_sets', index, { final_drive })}
                /></td
              >
            </tr>
          {/each}
        </tbody>
      </table>
      <button class="link" onclick={addGears}>add a set</button>
    </section>
    <section aria-label="Tyre compounds">
      <h2 class="figure">Tyres</h2>
      <table data-testid="compounds">
        <thead>
          <tr>
            <th scope="col">Compound</th><th scope="col">Grip</th><th scope="col">Warm-up</th>
            <th scope="col">Fade %/lap</th><th scope="col">Window °C</th>
            <th scope="col">Outside %/10°</th><th scope="col">In water</th>
          </tr>
        </thead>
        <tbody>
          {#each car.compounds ?? [] as one, index (index)}
            <tr>
              {@render nameCell('compounds', index, one.name)}
              <td
                ><CarFigure
                  label="Grip of {one.name}"
                  value={one.grip_factor ?? 1}
                  decimals={3}
                  step={0.01}
                  fine={0.002}
                  width="5ch"
                  write={(grip_factor) => set('compounds', index, { grip_factor })}
                /></td
              >
              <td
                ><input
                  aria-label="Warm-up factors of {one.name}, out lap first"
                  value={(one.warm_up ?? []).join('  ')}
                  onchange={(event) =>
                    void set('compounds', index, { warm_up: numbers(event.currentTarget.value) })}
                /></td
              >
              <td
                ><CarFigure
                  label="Fade of {one.name} (% a lap)"
                  value={one.fade_pct ?? 0}
                  decimals={2}
                  step={0.05}
                  fine={0.01}
                  width="5ch"
                  write={(fade_pct) => set('compounds', index, { fade_pct })}
                /></td
              >
              <td>
                {#each ['window_low_c', 'window_high_c'] as const as end (end)}
                  <CarFigure
                    label="{one.name} works {end === 'window_low_c'
                      ? 'from'
                      : 'to'} (°C of the track)"
                    value={one[end] ?? 0}
                    decimals={0}
                    step={1}
                    fine={1}
                    width="4ch"
                    write={(next) => set('compounds', index, { [end]: next })}
                  />
                {/each}
              </td>
              <td
                ><CarFigure
                  label="{one.name} loses outside the window (% for 10 °C)"
                  value={one.off_window_pct ?? 0}
                  decimals={1}
                  step={0.5}
                  fine={0.1}
                  width="5ch"
                  write={(off_window_pct) => set('compounds', index, { off_window_pct })}
                /></td
              >
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
                    void set('compounds', index, { wetness: points.length > 0 ? points : null })
                  }}
                /></td
              >
            </tr>
          {/each}
        </tbody>
      </table>
      <button class="link" onclick={addCompound}>add a compound</button>
      <p class="unit">
        A new compound has what is usual for a dry one: 7 % less grip on the out lap, 2 % on the
        next, 0.15 % lost with every lap from then on, all of its grip from 15 to 45 °C of track.
        These are assumptions until you change them.
      </p>
    </section>
  </div>
{/if}

<style>
  .columns {
    display: flex;
    flex-wrap: wrap;
    gap: 10px 40px;
    padding-top: 14px;
  }
  h2 {
    font-size: 18px;
  }
  table {
    border-spacing: 0;
  }
  th,
  td {
    text-align: left;
    font-weight: 500;
    font-size: 14px;
    padding: 1px 12px 1px 0;
    border-top: 1px solid var(--hair);
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
  input.place {
    font-size: 16px;
  }
  .link {
    color: var(--cool);
    text-decoration: underline;
    cursor: pointer;
    font-size: 14px;
  }
  .small {
    text-decoration: none;
    padding: 0 4px;
  }
  .refusal {
    color: var(--ember);
  }
  section p {
    max-width: 560px;
  }
</style>
