import { untrack } from 'svelte'
import { client, type PlanBands } from '../api/client'
import { Loaded } from './loaded.svelte'
import type { View } from './view.svelte'
import type { Workbench } from './workbench.svelte'

/** A batch is asked for once the plan has been left alone this long. */
const PAUSE_MS = 500

/** Everything that a plan's figures stand on, as one word. */
export function standing(bench: Workbench): string {
  const open = bench.open
  if (!open) return ''
  const { car, circuit, conditions, plan } = open.revisions
  return `${open.id}:${car}.${circuit}.${conditions}.${plan}`
}

/** The 10-90 bands of the plan as it is kept; none while a figure is being changed. */
export class Bands {
  #bench: Workbench
  #loaded = new Loaded<PlanBands>()

  constructor(bench: Workbench, view: View) {
    this.#bench = bench
    let pause: ReturnType<typeof setTimeout> | undefined
    $effect(() => {
      const key = standing(bench)
      const wanted = view.bands && bench.result !== null && bench.pending.length === 0
      clearTimeout(pause)
      untrack(() => {
        // A batch that is not of what is shown any more only takes time from the next lap.
        if (key !== this.#loaded.key) this.#loaded.cancel()
        if (wanted && key !== '') pause = setTimeout(() => void this.#ask(key), PAUSE_MS)
      })
    })
    $effect(() => {
      if (!view.bands) untrack(() => this.#loaded.drop())
    })
  }

  async #ask(key: string): Promise<void> {
    const id = this.#bench.open?.id
    if (id === undefined) return
    await this.#loaded.load(key, (signal) =>
      client.GET('/api/plans/{plan_id}/bands', { params: { path: { plan_id: id } }, signal }),
    )
  }

  /** The bands, when they are of exactly what is shown. */
  get now(): PlanBands | null {
    const fits = this.#loaded.key === standing(this.#bench) && this.#bench.pending.length === 0
    return fits ? this.#loaded.value : null
  }
}
