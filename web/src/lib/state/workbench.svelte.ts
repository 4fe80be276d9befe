import {
  client,
  type Assumptions,
  type Change,
  type Plan,
  type PlanSummary,
  type Result,
  type ErrorBody,
} from '../api/client'

/** A figure that was refused: which one, and the sentence that says why. */
export interface Refusal {
  key: string
  message: string
}

/** Name of the figure a change belongs to: the field, and for a radius its corner. */
export function changeKey(change: Pick<Change, 'field' | 'corner'>): string {
  return change.corner ? `${change.field}:${change.corner}` : change.field
}

function sentence(error: ErrorBody | undefined): string {
  const fault = error?.faults[0]
  if (!fault) return 'The application did not answer; is it still running?'
  const text = fault.message
  return text.charAt(0).toUpperCase() + text.slice(1) + (text.endsWith('?') ? '' : '.')
}

/**
 * The plan that is open, its lap, and the lap it was opened with.
 *
 * Changes are made one after the other on the newest plan; a newer change of the same figure
 * takes the place of one that still waits. A refused change leaves plan and lap as they were.
 */
export class Workbench {
  plans = $state.raw<PlanSummary[]>([])
  planId = $state('')
  plan = $state.raw<Plan | null>(null)
  assumptions = $state.raw<Assumptions | null>(null)
  result = $state.raw<Result | null>(null)
  opened = $state.raw<Result | null>(null)
  refusal = $state.raw<Refusal | null>(null)
  trouble = $state('')
  busy = $state(false)

  #waiting: Change[] = []

  /** Whether anything was changed since the plan was opened. */
  get changed(): boolean {
    return this.opened !== null && this.result !== null && this.opened !== this.result
  }

  async start(): Promise<void> {
    const { data, error } = await client.GET('/api/demo-plans').catch(() => NO_ANSWER)
    if (!data) {
      this.trouble = sentence(error)
      return
    }
    this.plans = data
    const first = data[0]
    if (first) await this.open(first.id)
  }

  async open(id: string): Promise<void> {
    this.#waiting = []
    this.planId = id
    const loaded = await client
      .GET('/api/demo-plans/{plan_id}', { params: { path: { plan_id: id } } })
      .catch(() => NO_ANSWER)
    if (!loaded.data) {
      this.trouble = sentence(loaded.error)
      return
    }
    const solved = await client
      .POST('/api/what-if', { body: { plan: loaded.data } })
      .catch(() => NO_ANSWER)
    if (this.planId !== id) return
    if (!solved.data) {
      this.trouble = sentence(solved.error)
      return
    }
    this.trouble = ''
    this.refusal = null
    this.plan = solved.data.plan
    this.assumptions = solved.data.assumptions
    this.result = solved.data.result
    this.opened = solved.data.result
  }

  change(change: Change): void {
    const key = changeKey(change)
    this.#waiting = [...this.#waiting.filter((other) => changeKey(other) !== key), change]
    if (!this.busy) void this.#work()
  }

  /** A figure that is no number never leaves the page, but is refused the same way. */
  refuse(key: string, message: string): void {
    this.refusal = { key, message }
  }

  clearRefusal(key: string): void {
    if (this.refusal?.key === key) this.refusal = null
  }

  async #work(): Promise<void> {
    this.busy = true
    for (let next = this.#waiting.shift(); next && this.plan; next = this.#waiting.shift()) {
      const id = this.planId
      const { data, error } = await client
        .POST('/api/what-if', { body: { plan: this.plan, change: next } })
        .catch(() => NO_ANSWER)
      if (this.planId !== id) continue
      if (data) {
        this.plan = data.plan
        this.assumptions = data.assumptions
        this.result = data.result
        this.clearRefusal(changeKey(next))
      } else {
        this.refusal = { key: changeKey(next), message: sentence(error) }
      }
    }
    this.busy = false
  }
}

const NO_ANSWER = { data: undefined, error: undefined }
