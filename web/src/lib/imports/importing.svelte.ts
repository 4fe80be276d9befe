import {
  answer,
  client,
  sentence,
  sentences,
  type Answer,
  type ImportOptions,
  type ImportPreview,
} from '../api/client'
import type { Workbench } from '../state/workbench.svelte'

/** What is taken unless it is chosen otherwise. */
const USUAL = {
  heights_smoothing_m: 120,
  use_heights: true,
  segments_describe: 'road' as const,
}

/** A file of points on its way in: read, looked at with other choices, kept. */
export class Importing {
  preview = $state.raw<ImportPreview | null>(null)
  faults = $state.raw<string[]>([])
  busy = $state('')
  options = $state.raw<ImportOptions>({})
  bridges = $state(false)
  name = $state('')

  constructor(private readonly bench: Workbench) {}

  async choose(file: File): Promise<void> {
    this.busy = `Reading ${file.name}…`
    this.preview = null
    this.faults = []
    this.options = {}
    this.bridges = false
    const reply: Answer<ImportPreview> = await answer(
      client.POST('/api/imports', {
        params: { query: { name: file.name } },
        body: '',
        bodySerializer: () => file as unknown as string,
        headers: { 'content-type': 'application/octet-stream' },
      }),
    )
    this.#take(reply)
    if (this.preview) this.name = file.name.replace(/\.[^.]*$/, '')
  }

  /** Look once more with another choice. */
  async look(change: Partial<ImportOptions>): Promise<void> {
    if (!this.preview) return
    this.options = { ...this.options, ...change }
    this.busy = 'Looking again…'
    const reply: Answer<ImportPreview> = await answer(
      client.POST('/api/imports/{import_id}', {
        params: { path: { import_id: this.preview.id } },
        body: { ...USUAL, ...this.options },
      }),
    )
    this.#take(reply)
  }

  /** Keep it as a circuit with a plan; true when that was done. */
  async keep(): Promise<boolean> {
    const open = this.bench.open
    if (!this.preview || !open) return false
    this.busy = 'Keeping it…'
    const { data, error } = await answer(
      client.POST('/api/imports/{import_id}/keep', {
        params: { path: { import_id: this.preview.id } },
        body: {
          plan_id: open.id,
          accepted: { name: this.name, crossings_are_bridges: this.bridges },
        },
      }),
    )
    this.busy = ''
    if (!data) {
      this.faults = sentences(error)
      return false
    }
    await this.bench.show(data.plan_id)
    this.bench.say(`${data.name}: a circuit and a plan of its own.`)
    return true
  }

  #take(reply: Answer<ImportPreview>): void {
    this.busy = ''
    if (reply.data) {
      this.preview = reply.data
      this.faults = []
    } else
      this.faults = reply.error
        ? reply.error.faults.map(({ path, message }) => (path ? `${path}: ${message}` : message))
        : [sentence(undefined)]
  }
}
