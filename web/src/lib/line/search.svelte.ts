import {
  answer,
  client,
  sentence,
  type Answer,
  type DrawnLine,
  type LineJob,
  type LineKind,
  type LineSettings,
  type RoadDrawing,
} from '../api/client'
import type { Workbench } from '../state/workbench.svelte'

const LOOK_EVERY_MS = 300

/** The road of the open plan as drawn, and the search for lines on it. */
export class LineSearch {
  road = $state.raw<RoadDrawing | null>(null)
  job = $state.raw<LineJob | null>(null)
  trouble = $state('')
  /** For which state of the plan the lines of the search stand. */
  #searchedFor = ''
  #asked = 0

  constructor(private readonly bench: Workbench) {}

  get running(): boolean {
    return this.job?.state === 'running'
  }

  /** Every line that is known: the one that is driven, and those found on this very plan. */
  lines(): DrawnLine[] {
    const driven = this.road?.line
    const found = this.job && this.#searchedFor === this.#mark() ? this.job.lines : []
    return driven ? [driven, ...found.filter((line) => line.kind !== driven.kind)] : found
  }

  /** Draw the plan's road anew. */
  async draw(): Promise<void> {
    const open = this.bench.open
    if (open?.plan.circuit.segments_describe !== 'road') {
      this.road = null
      return
    }
    this.#asked += 1
    const asked = this.#asked
    const { data, error } = await answer(
      client.GET('/api/plans/{plan_id}/road', { params: { path: { plan_id: open.id } } }),
    )
    if (asked !== this.#asked) return
    this.trouble = data ? '' : sentence(error)
    if (data) this.road = data
  }

  /** Look for lines; with `take` the one line found is taken into the plan. */
  async search(kinds: LineKind[], take = false): Promise<void> {
    await this.bench.settle()
    const open = this.bench.open
    if (!open) return
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/lines', {
        params: { path: { plan_id: open.id } },
        body: { kinds },
      }),
    )
    if (!data) {
      this.bench.say(sentence(error))
      return
    }
    this.#searchedFor = this.#mark()
    this.job = data
    while (this.job?.id === data.id && this.running) {
      await new Promise((wake) => setTimeout(wake, LOOK_EVERY_MS))
      const look: Answer<LineJob> = await answer(
        client.GET('/api/lines/{job_id}', { params: { path: { job_id: data.id } } }),
      )
      if (this.job?.id !== data.id) return
      if (!look.data) {
        this.bench.say(sentence(look.error))
        this.job = null
        return
      }
      this.job = look.data
    }
    for (const fault of this.job?.faults ?? []) this.bench.say(fault)
    const found = this.job?.lines[0]
    if (take && found && this.job?.state === 'done') await this.take(found.kind)
  }

  async cancel(): Promise<void> {
    if (!this.job) return
    const { data } = await answer(
      client.DELETE('/api/lines/{job_id}', { params: { path: { job_id: this.job.id } } }),
    )
    if (data) this.job = data
  }

  /** Drive a line that was found, or the middle. */
  async take(kind: LineKind): Promise<void> {
    const settings = this.road?.settings
    if (!settings) return
    await this.bench.keepLine({ ...settings, kind, computed: null }, this.job?.id ?? null)
  }

  /** Ask something else of the line; its geometry stays until it is computed anew. */
  async ask(change: Partial<LineSettings>): Promise<string | null> {
    const settings = this.road?.settings
    if (!settings) return null
    return this.bench.keepLine({ ...settings, ...change, computed: null }, null)
  }

  #mark(): string {
    const open = this.bench.open
    if (!open) return ''
    const { car, circuit, conditions } = open.revisions
    const wishes = JSON.stringify([
      this.road?.settings.margin_m,
      this.road?.settings.corners,
      this.road?.settings.holds,
      open.plan.driver,
      open.plan.car.fuel_kg,
    ])
    return [open.id, car, circuit, conditions, wishes].join('/')
  }
}
