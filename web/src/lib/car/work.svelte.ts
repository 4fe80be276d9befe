import {
  answer,
  client,
  sentences,
  type BrakeStudy,
  type Car,
  type CarComparison,
  type CarEdit,
  type CarReport,
  type CarSide,
} from '../api/client'
import type { Workbench } from '../state/workbench.svelte'

/** The car of the open plan: what it does, and edits of its document one after the other. */
export class CarWork {
  report = $state.raw<CarReport | null>(null)
  brakes = $state.raw<BrakeStudy | null>(null)
  comparison = $state.raw<CarComparison | null>(null)
  trouble = $state('')
  #asked = 0
  #compared = 0

  constructor(private readonly bench: Workbench) {}

  get car(): Car | null {
    return this.bench.open?.plan.car ?? null
  }

  async load(): Promise<void> {
    const open = this.bench.open
    if (!open) return
    const asked = ++this.#asked
    const { data } = await answer(
      client.GET('/api/plans/{plan_id}/car', { params: { path: { plan_id: open.id } } }),
    )
    if (asked === this.#asked && data) this.report = data
  }

  async study(): Promise<void> {
    const open = this.bench.open
    if (!open) return
    const { data } = await answer(
      client.GET('/api/plans/{plan_id}/car/brakes', { params: { path: { plan_id: open.id } } }),
    )
    this.brakes = data ?? null
  }

  async compare(a: CarSide, b: CarSide): Promise<void> {
    const open = this.bench.open
    if (!open) return
    const asked = ++this.#compared
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/car/compare', {
        params: { path: { plan_id: open.id } },
        body: { a, b },
      }),
    )
    if (asked !== this.#compared) return
    this.comparison = data ?? null
    this.trouble = data ? '' : (error?.faults[0]?.message ?? '')
  }

  /** A car's document kept as a new car; what is wrong with it, field by field. */
  async takeDocument(text: string): Promise<string[]> {
    const open = this.bench.open
    if (!open) return []
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/car/import', {
        params: { path: { plan_id: open.id } },
        body: {},
        bodySerializer: () => text,
      }),
    )
    if (!data) return sentences(error)
    await this.bench.show(data.id)
    this.bench.say(`${data.car.name}: a separate car, used by this plan.`)
    return []
  }

  /** Edit the car; the sentence of a refusal, or nothing. */
  edit(edit: CarEdit): Promise<string | null> {
    return this.bench.editCar(edit)
  }
}
