<script lang="ts">
  import type { Car } from '../api/client'
  import type { View } from '../state/view.svelte'
  import CarFigure from './CarFigure.svelte'
  import type { CarWork } from './work.svelte'

  /** Downforce, drag and balance over speed, for a car whose ride height moves with it. */
  let { work, view }: { work: CarWork; view: View } = $props()

  type Point = NonNullable<NonNullable<Car['attitude']>['by_speed']>[number]
  const FIRST: Point[] = [
    { speed_ms: 20, downforce_pct: 100, drag_pct: 100, front_shift: 0 },
    { speed_ms: 70, downforce_pct: 90, drag_pct: 100, front_shift: 0 },
  ]
  const points = $derived(work.car?.attitude?.by_speed ?? [])
  const units = $derived(view.units)
  let refusal = $state('')
  const write = (next: Point[]): Promise<string | null> =>
    work.edit({ op: 'air_table', points: next })
  /** What is not said beside a figure is said under the table. */
  async function row(next: Point[]): Promise<void> {
    refusal = (await write(next)) ?? ''
  }
  const set = (index: number, change: Partial<Point>): Promise<string | null> =>
    write(points.map((point, n) => (n === index ? { ...point, ...change } : point)))
  const beyond = (point: Point): Point => ({ ...point, speed_ms: point.speed_ms + 10 })
  const add = (): Promise<void> => {
    const last = points.at(-1)
    return row(last ? [...points, beyond(last)] : FIRST)
  }
</script>

<section aria-label="Downforce over speed" class="pt-2">
  <h2 class="figure text-[18px]">Downforce over speed</h2>
  {#if points.length === 0}
    <p class="unit">Downforce and drag coefficients are the same at every speed.</p>
  {:else}
    <table class="ruled" data-testid="air-table">
      <thead>
        <tr>
          <th scope="col">{units.speedUnit}</th><th scope="col">Downforce %</th>
          <th scope="col">Drag %</th><th scope="col">Front, ±</th>
          <th><span class="sr-only">Remove</span></th>
        </tr>
      </thead>
      <tbody>
        {#each points as point, index (index)}
          <tr>
            <td
              ><CarFigure
                label="Speed of point {index + 1} ({units.speedUnit})"
                value={units.show(point.speed_ms, 'speed')}
                decimals={0}
                step={10}
                fine={1}
                width="5ch"
                write={(shown) => set(index, { speed_ms: units.read(shown, 'speed') })}
              /></td
            >
            <td
              ><CarFigure
                label="Downforce at point {index + 1} (%)"
                value={point.downforce_pct}
                decimals={1}
                step={2}
                fine={0.5}
                width="6ch"
                write={(downforce_pct) => set(index, { downforce_pct })}
              /></td
            >
            <td
              ><CarFigure
                label="Drag at point {index + 1} (%)"
                value={point.drag_pct}
                decimals={1}
                step={2}
                fine={0.5}
                width="6ch"
                write={(drag_pct) => set(index, { drag_pct })}
              /></td
            >
            <td
              ><CarFigure
                label="Shift of the balance at point {index + 1}"
                value={point.front_shift}
                decimals={3}
                step={0.005}
                fine={0.001}
                width="6ch"
                write={(front_shift) => set(index, { front_shift })}
              /></td
            >
            <td
              ><button
                class="link no-underline"
                aria-label="Remove point {index + 1} of the downforce"
                onclick={() => void row(points.filter((_, n) => n !== index))}>×</button
              ></td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
  <p class="unit px-0 py-1">
    <button class="link" onclick={() => void add()}
      >{points.length === 0 ? 'Enter by speed' : 'Add a point'}</button
    >
  </p>
  {#if refusal}<p role="alert" class="refusal">{refusal}</p>{/if}
</section>

<style>
  th,
  td {
    padding: 1px 8px 1px 0;
  }
</style>
