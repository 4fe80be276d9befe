import {
  answer,
  client,
  sentence,
  type Axis,
  type EnergyZone,
  type Listed,
  type RaceRequest,
  type RankStep,
  type Setting,
  type StudyJob,
} from '../api/client'
import type { Workbench } from '../state/workbench.svelte'

const LOOK_EVERY_MS = 250

export type Kind =
  | 'one'
  | 'two'
  | 'worth'
  | 'has'
  | 'gears'
  | 'winds'
  | 'session'
  | 'weathers'
  | 'race'
  | 'saving'
  | 'energy'
  | 'passing'
  | 'work'
  | 'lanes'
  | 'flap'
/** What is edited where it is shown; each study is called as what it comes to. */
const EDITED = ['race', 'saving', 'energy', 'passing', 'work', 'lanes', 'flap', 'weathers'] as const
export interface Range {
  axis: string
  low: number | null
  high: number | null
  count: number
}
export interface GearsWanted {
  first_low: number | null
  first_high: number | null
  top_low: number | null
  top_high: number | null
  tow_pct: number
}
export interface Limits {
  top_speed_at_least_ms: number | null
  top_rpm_at_most: number | null
  fuel_at_most_litres: number | null
}

/** Studies that answer to the rules of the race as well. */
const OF_THE_RACE: Kind[] = ['race', 'saving', 'energy', 'passing', 'work', 'lanes', 'flap']

/** What is driven for the trade-offs of the open plan: one study of each kind, kept while it is open. */
export class Studies {
  axes = $state.raw<Axis[]>([])
  steps = $state.raw<RankStep[]>([])
  /** Cars that a lap can be set against. */
  cars = $state.raw<Listed[]>([])
  jobs = $state.raw<Partial<Record<Kind, StudyJob>>>({})
  limits = $state.raw<Limits>({
    top_speed_at_least_ms: null,
    top_rpm_at_most: null,
    fuel_at_most_litres: null,
  })
  trouble = $state('')
  /** Where the race of a plan stands, once it is under way. */
  #standing = $state.raw<{ plan: number; at: RaceRequest } | null>(null)
  /** What a study was driven along beside the plan: the record of the weather, and the units. */
  readonly along: Partial<Record<Kind, string>> = {}
  /** The state of the plan that each study was driven for. */
  #drivenFor: Partial<Record<Kind, string>> = {}
  #axesFor = ''
  /** How often each kind was asked for: only what was asked last is shown. */
  #asked: Partial<Record<Kind, number>> = {}

  constructor(private readonly bench: Workbench) {}

  /** The state of the plan, as far as a lap answers to it. */
  get mark(): string {
    const open = this.bench.open
    return open ? `${open.id}/${open.lap_mark}` : ''
  }

  /** The same with the rules of the race, which no lap answers to. */
  get raceMark(): string {
    const open = this.bench.open
    return open ? `${open.id}/${open.race_mark}` : ''
  }

  #markOf(kind: Kind): string {
    return OF_THE_RACE.includes(kind) ? this.raceMark : this.mark
  }

  /** Where the open plan's race stands; null before its start. */
  get now(): RaceRequest | null {
    return this.#standing?.plan === this.bench.open?.id ? (this.#standing?.at ?? null) : null
  }

  standAt(at: RaceRequest | null): void {
    const plan = this.bench.open?.id
    this.#standing = at === null || plan === undefined ? null : { plan, at }
  }

  stale(kind: Kind): boolean {
    return this.jobs[kind] !== undefined && this.#drivenFor[kind] !== this.#markOf(kind)
  }

  /** What can be varied, asked for again when the plan has changed. */
  async load(): Promise<void> {
    const open = this.bench.open
    if (!open || this.#axesFor === this.mark) return
    const mark = this.mark
    const path = { params: { path: { plan_id: open.id } } }
    const [axes, steps, cars] = await Promise.all([
      answer(client.GET('/api/plans/{plan_id}/axes', path)),
      answer(client.GET('/api/plans/{plan_id}/steps', path)),
      answer(client.GET('/api/library/{kind}', { params: { path: { kind: 'car' } } })),
    ])
    if (mark !== this.mark) return
    this.trouble = axes.data ? '' : sentence(axes.error)
    if (!axes.data) return
    // Studies of another plan are none of this one.
    if (!this.#axesFor.startsWith(`${open.id}/`)) this.jobs = {}
    this.#axesFor = mark
    this.axes = axes.data
    this.steps = steps.data ?? []
    this.cars = cars.data ?? []
  }

  axis(name: string): Axis | undefined {
    return this.axes.find((axis) => axis.name === name)
  }

  sweep(range: Range, rival: number | null, rival_speed_ms: number | null): Promise<void> {
    return this.#drive('one', (id) =>
      client.POST('/api/plans/{plan_id}/sweeps', {
        params: { path: { plan_id: id } },
        body: { ...range, rival, rival_speed_ms },
      }),
    )
  }

  grid(x: Range, y: Range): Promise<void> {
    return this.#drive('two', (id) =>
      client.POST('/api/plans/{plan_id}/grids', {
        params: { path: { plan_id: id } },
        body: { x, y },
      }),
    )
  }

  rank(steps: Record<string, number>, scatter: number | null): Promise<void> {
    return this.#drive('worth', (id) =>
      client.POST('/api/plans/{plan_id}/rankings', {
        params: { path: { plan_id: id } },
        body: { steps, scatter_s: scatter },
      }),
    )
  }

  search(axes: string[], over_session: boolean): Promise<void> {
    return this.#drive('has', (id) =>
      client.POST('/api/plans/{plan_id}/searches', {
        params: { path: { plan_id: id } },
        body: { axes, over_session },
      }),
    )
  }

  gears(wanted: GearsWanted): Promise<void> {
    return this.#drive('gears', (id) =>
      client.POST('/api/plans/{plan_id}/gears', {
        params: { path: { plan_id: id } },
        body: wanted,
      }),
    )
  }

  winds(): Promise<void> {
    return this.#drive('winds', (id) =>
      client.POST('/api/plans/{plan_id}/winds', {
        params: { path: { plan_id: id } },
        body: {},
      }),
    )
  }

  /** Drive a lap every few minutes of the plan's record, in one of the weathers that may come. */
  session(weather: number | null): Promise<void> {
    return this.#drive('session', (id) =>
      client.POST('/api/plans/{plan_id}/sessions', {
        params: { path: { plan_id: id } },
        body: { weather },
      }),
    )
  }

  weathers(): Promise<void> {
    return this.#drive('weathers', (id) =>
      client.POST('/api/plans/{plan_id}/weathers', {
        params: { path: { plan_id: id } },
        body: {},
      }),
    )
  }

  /** Plan the race, from the start or from where it stands. */
  race(wanted: RaceRequest): Promise<void> {
    return this.#drive('race', (id) =>
      client.POST('/api/plans/{plan_id}/races', {
        params: { path: { plan_id: id } },
        body: wanted,
      }),
    )
  }

  saving(saved_pct: number): Promise<void> {
    return this.#drive('saving', (id) =>
      client.POST('/api/plans/{plan_id}/savings', {
        params: { path: { plan_id: id } },
        body: { saved_pct },
      }),
    )
  }

  energy(emptier_mj: number, zones: EnergyZone[], uses: number | null): Promise<void> {
    return this.#drive('energy', (id) =>
      client.POST('/api/plans/{plan_id}/deployments', {
        params: { path: { plan_id: id } },
        body: { emptier_mj, zones, uses },
      }),
    )
  }

  flap(): Promise<void> {
    return this.#drive('flap', (id) =>
      client.POST('/api/plans/{plan_id}/flap', { params: { path: { plan_id: id } } }),
    )
  }

  passing(): Promise<void> {
    return this.#drive('passing', (id) =>
      client.POST('/api/plans/{plan_id}/passing', { params: { path: { plan_id: id } } }),
    )
  }

  work(): Promise<void> {
    return this.#drive('work', (id) =>
      client.POST('/api/plans/{plan_id}/tyre-work', { params: { path: { plan_id: id } } }),
    )
  }

  lanes(laps: number): Promise<void> {
    return this.#drive('lanes', (id) =>
      client.POST('/api/plans/{plan_id}/lanes', {
        params: { path: { plan_id: id } },
        body: { laps },
      }),
    )
  }

  /** Look at the two figures again, within other limits. */
  async limit(limits: Limits): Promise<void> {
    this.limits = limits
    const job = this.jobs.two
    if (job) this.#show('two', await this.#look(job.id))
  }

  async stop(kind: Kind): Promise<void> {
    const job = this.jobs[kind]
    if (!job) return
    const ended = await this.#end(job.id)
    if (ended) this.#show(kind, ended)
  }

  async #end(job_id: string): Promise<StudyJob | undefined> {
    const { data } = await answer(
      client.DELETE('/api/studies/{job_id}', { params: { path: { job_id } } }),
    )
    return data
  }

  /** Have the plan as a study found it best. */
  async take(settings: Setting[]): Promise<void> {
    const refused = await this.bench.takeSettings(settings)
    if (refused) this.bench.say(refused)
  }

  async #drive(
    kind: Kind,
    begin: (id: number) => Promise<{ data?: StudyJob; error?: unknown }>,
  ): Promise<void> {
    const turn = (this.#asked[kind] ?? 0) + 1
    this.#asked[kind] = turn
    const last = (): boolean => this.#asked[kind] === turn
    await this.bench.settle()
    const open = this.bench.open
    if (!open || !last()) return
    const running = this.jobs[kind]
    if (running?.state === 'running') await this.stop(kind)
    const mark = this.#markOf(kind)
    if (!last()) return
    const { data, error } = await answer(begin(open.id))
    if (!last()) {
      // It was asked for again meanwhile, and answers may come in another order.
      if (data) void this.#end(data.id)
      return
    }
    this.trouble = data ? '' : sentence(error)
    if (!data) return
    this.#drivenFor[kind] = mark
    this.#show(kind, data)
    while (this.jobs[kind]?.id === data.id && this.jobs[kind]?.state === 'running') {
      await new Promise((wake) => setTimeout(wake, LOOK_EVERY_MS))
      const look = await this.#look(data.id)
      if (this.jobs[kind]?.id !== data.id) return
      if (!look) {
        this.jobs = { ...this.jobs, [kind]: undefined }
        return
      }
      this.#show(kind, look)
    }
    for (const fault of this.jobs[kind]?.faults ?? []) this.trouble = fault
  }

  async #look(id: string): Promise<StudyJob | null> {
    const query = Object.fromEntries(
      Object.entries(this.limits).filter(([, value]) => value !== null),
    )
    const { data, error } = await answer(
      client.GET('/api/studies/{job_id}', { params: { path: { job_id: id }, query } }),
    )
    if (!data) this.trouble = sentence(error)
    return data ?? null
  }

  /** What is driven anew shows what it was until it is known: no field goes from under a hand. */
  #withLast(kind: Kind, job: StudyJob): StudyJob {
    const part = EDITED.find((one) => one === kind)
    const last = this.jobs[kind]
    if (!part || job[part] || job.state === 'refused' || last?.plan_id !== job.plan_id) return job
    return { ...job, [part]: last[part] }
  }

  #show(kind: Kind, job: StudyJob | null): void {
    if (job) this.jobs = { ...this.jobs, [kind]: this.#withLast(kind, job) }
  }
}
