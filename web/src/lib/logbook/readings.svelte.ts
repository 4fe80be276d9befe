import { answer, client, sendLog, fileFault, type LogColumns, type LogPreview } from '../api/client'
import type { Workbench } from '../state/workbench.svelte'
import type { Logbook } from './logbook.svelte'

const ASK_EVERY_MS = 250

/** A file that is being looked at: on its way, understood, or refused. */
export interface Reading {
  key: number
  name: string
  watch: string
  doing: string
  preview: LogPreview | null
  trouble: string
  /** Somebody says that a file that fits badly is of this circuit. */
  certain: boolean
}

/** Logger's files being looked at, one after the other; nothing is kept before it is accepted. */
export class Readings {
  files = $state.raw<Reading[]>([])
  #next = 0

  constructor(
    private readonly bench: Workbench,
    private readonly book: Logbook,
  ) {}

  get busy(): boolean {
    return this.files.some((one) => one.doing !== '')
  }

  get ready(): Reading[] {
    return this.files.filter(
      (one) =>
        one.preview && one.preview.faults.length === 0 && (!one.preview.doubt || one.certain),
    )
  }

  async take(files: Iterable<File>): Promise<void> {
    const plan = this.bench.open
    if (!plan) return
    const fresh = [...files].map((file) => {
      const key = (this.#next += 1)
      const reading: Reading = {
        key,
        name: file.name,
        watch: crypto.randomUUID(),
        doing: 'waiting',
        preview: null,
        trouble: '',
        certain: false,
      }
      return { file, reading }
    })
    this.files = [...this.files, ...fresh.map((one) => one.reading)]
    for (const { file, reading } of fresh) {
      if (!this.files.some((one) => one.key === reading.key)) continue
      if (file.name.toLowerCase().endsWith('.json')) {
        await this.#takeDocument(plan.id, file, reading)
        continue
      }
      const { data, error } = await this.#watched(reading, () =>
        sendLog(plan.id, file, reading.watch),
      )
      this.#set(reading.key, {
        doing: '',
        preview: data ?? null,
        trouble: data ? '' : fileFault(error),
      })
    }
  }

  /** A run that somebody else has written down: kept as it is. */
  async #takeDocument(plan: number, file: File, reading: Reading): Promise<void> {
    const text = await file.text()
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/runs/document', {
        params: { path: { plan_id: plan } },
        body: {},
        bodySerializer: () => text,
      }),
    )
    if (!data) {
      this.#set(reading.key, { doing: '', trouble: fileFault(error) })
      return
    }
    this.files = this.files.filter((one) => one.key !== reading.key)
    await this.book.arrived(data.run_id)
  }

  /** Read a file once more, with its channels in other columns. */
  async again(reading: Reading, columns: LogColumns): Promise<void> {
    const shown = reading.preview
    if (!shown) return
    const { data, error } = await this.#watched(reading, () =>
      answer(
        client.POST('/api/readings/{reading_id}', {
          params: { path: { reading_id: shown.id }, query: { watch: reading.watch } },
          body: { columns },
        }),
      ),
    )
    this.#set(reading.key, {
      doing: '',
      preview: data ?? shown,
      trouble: data ? '' : fileFault(error),
    })
  }

  sure(reading: Reading, certain: boolean): void {
    this.#set(reading.key, { certain })
  }

  stop(reading: Reading): void {
    void client.DELETE('/api/readings/watch/{watch}', {
      params: { path: { watch: reading.watch } },
    })
  }

  leave(reading: Reading): void {
    if (reading.doing) this.stop(reading)
    if (reading.preview) {
      void client.DELETE('/api/readings/{reading_id}', {
        params: { path: { reading_id: reading.preview.id } },
      })
    }
    this.files = this.files.filter((one) => one.key !== reading.key)
  }

  /** Keep every file whose laps were found, in the order in which they came. */
  async keepAll(event: number | null, session: number | null): Promise<void> {
    let last: number | null = null
    for (const reading of this.ready) {
      if (!reading.preview) continue
      const { data, error } = await answer(
        client.POST('/api/readings/{reading_id}/keep', {
          params: { path: { reading_id: reading.preview.id } },
          body: { name: null, event_id: event, session, certain: reading.certain },
        }),
      )
      if (data) {
        last = data.run_id
        this.files = this.files.filter((one) => one.key !== reading.key)
      } else this.#set(reading.key, { trouble: fileFault(error) })
    }
    if (last !== null) await this.book.arrived(last)
  }

  #set(key: number, change: Partial<Reading>): void {
    this.files = this.files.map((one) => (one.key === key ? { ...one, ...change } : one))
  }

  async #watched<T>(reading: Reading, ask: () => Promise<T>): Promise<T> {
    this.#set(reading.key, { doing: 'reading', trouble: '' })
    const timer = setInterval(() => {
      void answer(
        client.GET('/api/readings/watch/{watch}', {
          params: { path: { watch: reading.watch } },
        }),
      ).then(({ data }) => {
        const still = this.files.find((one) => one.key === reading.key)
        if (data && still?.doing) this.#set(reading.key, { doing: data.doing })
      })
    }, ASK_EVERY_MS)
    try {
      return await ask()
    } finally {
      clearInterval(timer)
    }
  }
}
