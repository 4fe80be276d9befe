import {
  answer,
  client,
  sentence,
  type Answer,
  type BlameChoice,
  type FitFound,
  type KeptFit,
  type StudyJob,
  type TakenFigure,
} from '../api/client'
import type { Workbench } from '../state/workbench.svelte'

const LOOK_EVERY_MS = 250

/** What runs teach the open plan: a fit under way, what it found, and what was taken over before. */
export class Learning {
  job = $state.raw<StudyJob | null>(null)
  /** The evidence of an earlier change, where one is looked at. */
  evidence = $state.raw<FitFound | null>(null)
  kept = $state.raw<KeptFit[]>([])
  choices = $state.raw<BlameChoice[]>([])
  trouble = $state('')
  /** Runs and plan that the fit was made of. */
  #of = ''
  #keptFor = 0

  constructor(private readonly bench: Workbench) {}

  get found(): FitFound | null {
    return this.evidence ?? this.job?.fit ?? null
  }

  #mark(runs: number[]): string {
    const open = this.bench.open
    return open ? [open.id, ...Object.values(open.revisions), ...runs].join('/') : ''
  }

  stale(runs: number[]): boolean {
    return this.job !== null && this.#of !== this.#mark(runs)
  }

  async load(): Promise<void> {
    const open = this.bench.open
    if (!open) return
    if (this.#keptFor !== open.id) {
      this.job = this.evidence = null
      this.#keptFor = open.id
    }
    const [kept, choices] = await Promise.all([
      answer(client.GET('/api/plans/{plan_id}/fits', { params: { path: { plan_id: open.id } } })),
      answer(client.GET('/api/blames')),
    ])
    this.trouble = kept.data ? '' : sentence(kept.error)
    this.kept = kept.data ?? []
    this.choices = choices.data ?? []
  }

  async learn(runs: number[]): Promise<void> {
    const open = this.bench.open
    if (!open) return
    this.trouble = ''
    this.evidence = null
    const mark = this.#mark(runs)
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/fits', {
        params: { path: { plan_id: open.id } },
        body: { runs },
      }),
    )
    if (!data) {
      this.trouble = sentence(error)
      return
    }
    this.job = data
    this.#of = mark
    while (this.job?.id === data.id && this.job.state === 'running') {
      await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS))
      const now: Answer<StudyJob> = await answer(
        client.GET('/api/studies/{job_id}', { params: { path: { job_id: data.id } } }),
      )
      if (this.job?.id !== data.id) return
      if (!now.data) {
        this.trouble = sentence(now.error)
        return
      }
      this.job = now.data
    }
    if (this.job?.state === 'refused') this.trouble = this.job.faults?.join('; ') ?? ''
  }

  async stop(): Promise<void> {
    if (!this.job) return
    const { data } = await answer(
      client.DELETE('/api/studies/{job_id}', { params: { path: { job_id: this.job.id } } }),
    )
    if (data) this.job = data
  }

  /** Take figures over into the plan. Whether they were. */
  async take(taken: TakenFigure[]): Promise<boolean> {
    if (!this.job) return false
    this.trouble = (await this.bench.takeFit(this.job.id, taken)) ?? ''
    if (this.trouble) return false
    await this.load()
    return true
  }

  async look(fit: number): Promise<void> {
    const { data, error } = await answer(
      client.GET('/api/fits/{fit_id}', { params: { path: { fit_id: fit } } }),
    )
    this.trouble = data ? '' : sentence(error)
    this.evidence = data ?? null
  }
}
