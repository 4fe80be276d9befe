import type { CircuitEdit } from '../api/client'
import type { Workbench } from '../state/workbench.svelte'

interface Waiting {
  /** Which figure of the circuit this is. */
  key: string
  value: number | null
  edit: CircuitEdit
}

const PAUSE_MS = 900

/** Name of a segment's figure. */
export function figureKey(segment: number, figure: string): string {
  return `${segment}:${figure}`
}

/**
 * Figures of the circuit being changed: shown at once, written as one step when they are let go
 * of. A refused figure is taken back to what the circuit holds, with the reason beside it.
 */
export class CircuitEdits {
  waiting = $state.raw<Waiting[]>([])
  refusal = $state.raw<{ key: string; message: string } | null>(null)
  #pause: ReturnType<typeof setTimeout> | undefined

  constructor(private readonly bench: Workbench) {
    bench.waitingEdits = this
  }

  /** The sheet is left: what waits is kept. */
  async leave(): Promise<void> {
    await this.settle()
    if (this.bench.waitingEdits === this) this.bench.waitingEdits = null
  }

  /** What is shown of a figure: what waits to be kept, or what the circuit holds. */
  shown<T extends number | null>(key: string, kept: T): T | number | null {
    const found = this.waiting.find((one) => one.key === key)
    return found ? found.value : kept
  }

  /** Change a figure; it is kept once it is let go of. */
  change(key: string, value: number | null, edit: CircuitEdit): void {
    this.waiting = [...this.waiting.filter((one) => one.key !== key), { key, value, edit }]
    clearTimeout(this.#pause)
    this.#pause = setTimeout(() => void this.settle(), PAUSE_MS)
  }

  async settle(): Promise<void> {
    clearTimeout(this.#pause)
    const kept = this.waiting
    const last = kept[kept.length - 1]
    if (!last) return
    const refused = await this.bench.editCircuit(kept.map((one) => one.edit))
    this.waiting = this.waiting.filter((one) => !kept.includes(one))
    if (refused) this.refuse(last.key, refused)
  }

  /** An edit that is not a figure, after the figures that wait. */
  async make(edit: CircuitEdit): Promise<boolean> {
    await this.settle()
    const refused = await this.bench.editCircuit([edit])
    if (refused) this.bench.say(refused)
    return refused === null
  }

  refuse(key: string, message: string): void {
    this.refusal = { key, message }
  }

  forget(key: string): void {
    if (this.refusal?.key === key) this.refusal = null
  }
}
