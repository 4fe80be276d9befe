<script lang="ts">
  import { answer, client, sentences, type FirstPlan } from '../api/client'
  import type { Workbench } from '../state/workbench.svelte'
  import type { View } from '../state/view.svelte'
  import { typedNumber } from '../parts/format'
  import type { Quantity } from '../parts/units'

  /** Car, circuit, conditions: what a person knows, in three steps, and the plan made of it. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  type Turn = 'straight' | 'left' | 'right'
  interface Row {
    turn: Turn
    name: string
    length: string
    radius: string
    angle: string
  }

  const TITLES = ['The car', 'The circuit', 'The conditions']
  let step = $state(0)
  let faults = $state.raw<string[]>([])
  let busy = $state(false)
  const units = $derived(view.units)

  let car = $state({
    name: '',
    kind: 'car' as 'car' | 'motorcycle',
    driven: 'rear' as 'rear' | 'front' | 'all',
    mass: '1000',
    power: '180',
    topSpeed: '240',
    lateral: '1.2',
    downforce: '0',
  })
  let circuit = $state({ name: '', closed: true, boards: true })
  let rows = $state<Row[]>([
    { turn: 'straight', name: '', length: '400', radius: '', angle: '' },
    { turn: 'right', name: '', length: '', radius: '40', angle: '90' },
  ])
  let air = $state({ name: 'Dry, calm', temperature: '20', wind: '0', from: '0', wetness: '0' })

  /** A typed figure in SI units; what is no number goes out as none and is refused by name. */
  function si(text: string, quantity: Quantity = 'none'): number | null {
    const number = typedNumber(text)
    return number === null ? null : units.read(number, quantity)
  }

  function addRow(turn: Turn): void {
    rows.push({ turn, name: '', length: '', radius: '', angle: '' })
  }

  function remove(index: number): void {
    rows.splice(index, 1)
  }

  function next(event: SubmitEvent): void {
    event.preventDefault()
    faults = []
    if (step < 2) step += 1
    else void make()
  }

  async function make(): Promise<void> {
    const wanted = {
      car: {
        name: car.name,
        kind: car.kind,
        driven: car.driven,
        mass_kg: si(car.mass),
        peak_power_kw: si(car.power),
        top_speed_ms: si(car.topSpeed, 'speed'),
        lateral_g: si(car.lateral),
        downforce_kg: si(car.downforce),
        fuel_kg: 20,
      },
      circuit: {
        name: circuit.name,
        closed: circuit.closed,
        boards: circuit.boards,
        segments: rows.map((row) => ({
          turn: row.turn,
          name: row.name,
          length_m: row.turn === 'straight' ? si(row.length, 'length') : null,
          radius_m: row.turn === 'straight' ? null : si(row.radius, 'length'),
          angle_deg: row.turn === 'straight' ? null : si(row.angle),
        })),
      },
      conditions: {
        name: air.name,
        air_temp_c: si(air.temperature, 'temperature'),
        wind_speed_ms: si(air.wind, 'wind'),
        wind_from_deg: si(air.from),
        wetness_pct: si(air.wetness),
      },
    } as FirstPlan
    busy = true
    const { data, error } = await answer(client.POST('/api/plans/first', { body: wanted }))
    busy = false
    if (data) {
      await bench.show(data.plan_id)
      return
    }
    faults = sentences(error)
    const first = error?.faults[0]?.path ?? ''
    step = first.startsWith('car') ? 0 : first.startsWith('circuit') ? 1 : step
  }
</script>

{#snippet field(label: string, unit: string, value: string, set: (text: string) => void)}
  <label class="field">
    <span>{label}</span>
    <span
      ><input
        class="figure"
        inputmode="decimal"
        {value}
        oninput={(event) => set(event.currentTarget.value)}
        required
      /> <span class="unit">{unit}</span></span
    >
  </label>
{/snippet}

<ol class="steps" aria-label="Steps">
  {#each TITLES as title, index (title)}
    <li aria-current={step === index ? 'step' : undefined}>
      <button class="figure" onclick={() => (step = index)}>{index + 1} {title}</button>
    </li>
  {/each}
</ol>
<form onsubmit={next}>
  {#if step === 0}
    <label class="field wide">
      <span>Name</span>
      <input class="figure name" bind:value={car.name} maxlength="200" required />
    </label>
    <div class="fields">
      <label class="field">
        <span>Kind</span>
        <select class="figure" bind:value={car.kind}>
          <option value="car">car</option>
          <option value="motorcycle">motorcycle</option>
        </select>
      </label>
      {#if car.kind === 'car'}
        <label class="field">
          <span>Driven wheels</span>
          <select class="figure" bind:value={car.driven}>
            <option value="rear">rear</option>
            <option value="front">front</option>
            <option value="all">all</option>
          </select>
        </label>
      {/if}
      {@render field('Mass without driver', 'kg', car.mass, (text) => (car.mass = text))}
      {@render field('Peak power', 'kW', car.power, (text) => (car.power = text))}
      {@render field('Top speed', units.speedUnit, car.topSpeed, (text) => (car.topSpeed = text))}
      {@render field('Lateral g in slow corners', 'g', car.lateral, (text) => (car.lateral = text))}
      {@render field(
        'Downforce at 200 km/h',
        'kg',
        car.downforce,
        (text) => (car.downforce = text),
      )}
    </div>
    <p class="unit">
      Drag follows from power and top speed; engine shape, six gears, weights and brake distribution
      are usual values, and every one can be changed later.
    </p>
  {:else if step === 1}
    <label class="field wide">
      <span>Name</span>
      <input class="figure name" bind:value={circuit.name} maxlength="200" required />
    </label>
    <div class="checks">
      <label
        ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={circuit.closed} /> A closed
        circuit (otherwise a course from a standing start)</label
      >
      <label
        ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={circuit.boards} /> Boards at
        150, 100 and 50 m where the straight is long enough</label
      >
    </div>
    <table>
      <thead>
        <tr
          ><th scope="col">Part</th><th scope="col">Name</th><th scope="col"
            >Length, {units.lengthUnit}</th
          ><th scope="col">Radius as driven, {units.lengthUnit}</th><th scope="col">Angle, °</th><th
            ><span class="sr-only">Remove</span></th
          ></tr
        >
      </thead>
      <tbody>
        {#each rows as row, index (index)}
          <tr>
            <td>
              <select class="figure" aria-label="Kind of part {index + 1}" bind:value={row.turn}>
                <option value="straight">straight</option>
                <option value="left">left</option>
                <option value="right">right</option>
              </select>
            </td>
            <td>
              {#if row.turn !== 'straight'}
                <input
                  class="figure"
                  aria-label="Name of corner, part {index + 1}"
                  placeholder="T{rows.slice(0, index + 1).filter((r) => r.turn !== 'straight')
                    .length}"
                  bind:value={row.name}
                />
              {/if}
            </td>
            <td>
              {#if row.turn === 'straight'}
                <input
                  class="figure short"
                  inputmode="decimal"
                  required
                  aria-label="Length of part {index + 1}"
                  bind:value={row.length}
                />
              {/if}
            </td>
            <td>
              {#if row.turn !== 'straight'}
                <input
                  class="figure short"
                  inputmode="decimal"
                  required
                  aria-label="Radius of part {index + 1}"
                  bind:value={row.radius}
                />
              {/if}
            </td>
            <td>
              {#if row.turn !== 'straight'}
                <input
                  class="figure short"
                  inputmode="decimal"
                  required
                  aria-label="Angle of part {index + 1}"
                  bind:value={row.angle}
                />
              {/if}
            </td>
            <td>
              <button
                type="button"
                class="link"
                aria-label="Remove part {index + 1}"
                disabled={rows.length === 1}
                onclick={() => remove(index)}>Remove</button
              >
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
    <div class="checks">
      <button type="button" class="link" onclick={() => addRow('straight')}>Add a straight</button>
      <button type="button" class="link" onclick={() => addRow('left')}>Add a left</button>
      <button type="button" class="link" onclick={() => addRow('right')}>Add a right</button>
    </div>
  {:else}
    <label class="field wide">
      <span>Name</span>
      <input class="figure name" bind:value={air.name} maxlength="200" required />
    </label>
    <div class="fields">
      {@render field(
        'Air',
        units.temperatureUnit,
        air.temperature,
        (text) => (air.temperature = text),
      )}
      {@render field('Wind', units.unitOf('wind'), air.wind, (text) => (air.wind = text))}
      {@render field('Wind from', '°', air.from, (text) => (air.from = text))}
      {@render field('Wetness', '%', air.wetness, (text) => (air.wetness = text))}
    </div>
  {/if}
  {#if faults.length > 0}
    <ul role="alert" class="faults">
      {#each faults as fault (fault)}<li>{fault}</li>{/each}
    </ul>
  {/if}
  <div class="checks">
    {#if step > 0}
      <button type="button" class="btn btn-sm btn-outline" onclick={() => (step -= 1)}>Back</button>
    {/if}
    <button class="btn btn-sm btn-primary" disabled={busy}
      >{step < 2 ? 'Next' : busy ? 'Predicting…' : 'Predict the lap'}</button
    >
  </div>
</form>

<style>
  .steps {
    display: flex;
    border-bottom: 3px double var(--ink);
    gap: 22px;
  }
  .steps button {
    font-size: 19px;
    padding: 4px 0;
    cursor: pointer;
    color: var(--ink-2);
  }
  .steps [aria-current] button {
    color: var(--ink);
    border-bottom: 3px solid var(--ink);
  }
  form {
    padding: 14px 0;
  }
  .fields {
    display: flex;
    flex-wrap: wrap;
    gap: 14px 30px;
    margin: 12px 0;
  }
  .field {
    display: flex;
    flex-direction: column;
  }
  input.figure,
  select.figure {
    background: none;
    border: 0;
    border-bottom: 1px dotted var(--ink-2);
    font-size: 19px;
    width: 7ch;
    padding: 1px 0;
  }
  select.figure {
    width: auto;
    background: var(--paper);
    color: var(--ink);
  }
  input.name {
    width: 100%;
  }
  td input.figure:not(.short) {
    width: 14ch;
  }
  .checks {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 18px;
    margin: 10px 0;
  }
  .checks label {
    display: flex;
    gap: 6px;
    align-items: center;
  }
  table {
    width: 100%;
  }
  th {
    text-align: left;
    font-weight: 500;
    color: var(--ink-2);
    font-size: 13px;
  }
  td,
  th {
    border-bottom: 1px solid var(--hair);
    padding: 3px 10px 3px 0;
  }
  .faults {
    color: var(--ember);
    list-style: square inside;
  }
  @media (max-width: 560px) {
    .steps {
      flex-wrap: wrap;
      gap: 4px 16px;
    }
    td,
    th {
      padding-right: 4px;
    }
    td input.figure:not(.short) {
      width: 6ch;
    }
    td input.figure.short {
      width: 5ch;
    }
    input.figure,
    select.figure {
      font-size: 16px;
      max-width: 100%;
    }
    form {
      overflow-x: auto;
    }
  }
</style>
