import { answer, sentence, type ErrorBody } from '../api/client'

/** Something asked of the server: what came last, and what went wrong. Late answers are dropped. */
export class Loaded<T> {
  value = $state.raw<T | null>(null)
  trouble = $state('')
  /** What the value was asked for; another key makes it stale. */
  key = $state('')
  #asked = 0

  async load(
    key: string,
    ask: (stop: AbortSignal) => Promise<{ data?: T; error?: unknown }>,
  ): Promise<void> {
    if (key === this.key && this.value !== null) return
    const number = (this.#asked += 1)
    this.#stop.abort()
    this.#stop = new AbortController()
    const { data, error } = await answer(ask(this.#stop.signal) as Promise<{ data?: T }>)
    if (number !== this.#asked) return
    this.value = data ?? null
    this.key = key
    this.trouble = data === undefined ? sentence(error as ErrorBody | undefined) : ''
  }
  #stop = new AbortController()

  /** Let go of what is under way; what came before stays. */
  cancel(): void {
    this.#asked += 1
    this.#stop.abort()
  }

  /** Let go of what is under way, and of the value. */
  drop(): void {
    this.cancel()
    this.value = null
    this.key = ''
    this.trouble = ''
  }
}
