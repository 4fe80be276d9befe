import {
  answer,
  client,
  sentence,
  sentences,
  type Answer,
  type CornerEdit,
  type FirstDrive,
  type ImportOptions,
  type ImportPreview,
  type ImportProgress,
} from '../api/client'
import type { Workbench } from '../state/workbench.svelte'

/** What is taken unless it is chosen otherwise. */
const USUAL = {
  heights_smoothing_m: 120,
  use_heights: true,
  segments_describe: 'road' as const,
}
const ASK_EVERY_MS = 200

/** A file of points on its way in: read, looked at with other choices, kept. */
export class Importing {
  preview = $state.raw<ImportPreview | null>(null)
  faults = $state.raw<string[]>([])
  busy = $state('')
  progress = $state.raw<ImportProgress | null>(null)
  options = $state.raw<ImportOptions>({})
  bridges = $state(false)
  name = $state('')
  /** Corners were split, joined or named by hand since the file was last fitted. */
  edited = $state(false)
  #watch = ''

  constructor(private readonly bench: Workbench) {}

  async choose(file: File): Promise<void> {
    this.preview = null
    this.faults = []
    this.options = {}
    this.bridges = false
    const reply: Answer<ImportPreview> = await this.#watched(`Reading ${file.name}…`, (watch) =>
      answer(
        client.POST('/api/imports', {
          params: { query: { name: file.name, watch } },
          body: '',
          bodySerializer: () => file as unknown as string,
          headers: { 'content-type': 'application/octet-stream' },
        }),
      ),
    )
    this.#take(reply)
    if (reply.data) this.name = reply.data.name
  }

  /** Look once more with another choice. */
  async look(change: Partial<ImportOptions>): Promise<void> {
    const shown = this.preview
    if (!shown) return
    this.options = { ...this.options, ...change }
    const edited = this.edited
    this.#take(
      await this.#watched('Updating the preview…', (watch) =>
        answer(
          client.POST('/api/imports/{import_id}', {
            params: { path: { import_id: shown.id }, query: { watch } },
            body: { ...USUAL, ...this.options },
          }),
        ),
      ),
    )
    this.edited = edited
  }

  /** Split, join or name corners; what was wrong with it, or nothing. */
  async edit(edit: CornerEdit): Promise<void> {
    if (!this.preview) return
    this.busy = 'Fitting again…'
    const { data, error } = await answer(
      client.POST('/api/imports/{import_id}/corners', {
        params: { path: { import_id: this.preview.id } },
        body: { edit },
      }),
    )
    this.busy = ''
    if (data) {
      this.preview = data
      this.faults = []
      this.edited = true
    } else this.faults = [sentence(error)]
  }

  /** Stop what is being done at its next step. */
  async stop(): Promise<void> {
    await answer(
      client.DELETE('/api/imports/watch/{watch}', { params: { path: { watch: this.#watch } } }),
    )
  }

  /** Whether something crosses itself, and it is asked whether that is a bridge. */
  get asked(): boolean {
    return this.preview?.crossings.some((said) => said.endsWith('?')) ?? false
  }

  /** Whether it can be kept as it is. */
  get acceptable(): boolean {
    return (
      this.preview !== null &&
      this.busy === '' &&
      this.name.trim() !== '' &&
      (!this.asked || this.bridges)
    )
  }

  /** Whether a line is to be computed between the edges. */
  get describesRoad(): boolean {
    return this.options.segments_describe !== 'driven'
  }

  /** Keep it as a circuit, and a plan on it driven with that; true when that was done. */
  async keep(drivenWith: { plan_id: number } | { first: FirstDrive }): Promise<boolean> {
    if (!this.preview) return false
    this.busy = 'Saving…'
    const { data, error } = await answer(
      client.POST('/api/imports/{import_id}/keep', {
        params: { path: { import_id: this.preview.id } },
        body: {
          ...drivenWith,
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
    this.bench.say(`${data.name}: a new circuit and plan.`)
    return true
  }

  /** A request whose progress is asked for until it is answered. */
  async #watched<T>(busy: string, request: (watch: string) => Promise<T>): Promise<T> {
    const watch = crypto.randomUUID()
    this.#watch = watch
    this.busy = busy
    const asking = setInterval(() => {
      void answer(client.GET('/api/imports/watch/{watch}', { params: { path: { watch } } })).then(
        ({ data }) => {
          if (data && this.#watch === watch) this.progress = data
        },
      )
    }, ASK_EVERY_MS)
    try {
      return await request(watch)
    } finally {
      clearInterval(asking)
      this.#watch = ''
      this.progress = null
    }
  }

  #take(reply: Answer<ImportPreview>): void {
    this.busy = ''
    if (reply.data) {
      this.preview = reply.data
      this.faults = []
      this.edited = false
    } else this.faults = sentences(reply.error)
  }
}
