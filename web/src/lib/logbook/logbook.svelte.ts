import {
  answer,
  client,
  sentence,
  type Debrief,
  type LapAgainst,
  type ListedRun,
  type OtherPlan,
  type OpenRun,
  type RunChanged,
  type RunEdit,
  type RunPlace,
  type Season,
  type SeveralLaps,
  type SimulatedRun,
  type CornerPast,
} from '../api/client'
import type { View } from '../state/view.svelte'
import type { Workbench } from '../state/workbench.svelte'

/** The season, the run of it that is looked at, a lap of that, and laps taken together. */
export class Logbook {
  season = $state.raw<Season | null>(null)
  open = $state.raw<OpenRun | null>(null)
  lap = $state.raw<LapAgainst | null>(null)
  /** What changed before each run that was looked at in the list. */
  changed = $state.raw<Record<number, RunChanged>>({})
  several = $state.raw<SeveralLaps | null>(null)
  past = $state.raw<CornerPast | null>(null)
  debrief = $state.raw<Debrief | null>(null)
  /** Runs taken together, and learned from; the open one alone unless others are ticked. */
  ticked = $state.raw<number[]>([])
  /** The lap that laps are held against: "plan", "plan:3", "run:5:4". */
  against = $state('plan')
  search = $state('')
  trouble = $state('')
  working = $state('')
  /** Other plans on this circuit, whose laps are benchmarks too. */
  plans = $state.raw<OtherPlan[]>([])
  #listedFor = ''
  /** How often a run was asked for: an answer that was overtaken is dropped. */
  #looked = 0

  constructor(
    private readonly bench: Workbench,
    private readonly view: View,
  ) {}

  /** The runs on the open plan's circuit, the last driven first. */
  get here(): ListedRun[] {
    const season = this.season
    if (!season) return []
    const runs = [
      ...season.runs,
      ...season.events.flatMap((event) => [
        ...event.runs,
        ...event.sessions.flatMap((session) => session.runs),
      ]),
    ]
    return runs
      .filter((run) => run.here)
      .sort((one, other) => other.driven_at.localeCompare(one.driven_at))
  }

  /** The runs that are taken together. */
  get taken(): number[] {
    const known = this.here.map((run) => run.id)
    const ticked = this.ticked.filter((id) => known.includes(id))
    if (ticked.length > 0) return ticked
    return this.open && known.includes(this.open.id) ? [this.open.id] : []
  }

  async load(): Promise<void> {
    const plan = this.bench.open
    if (!plan) return
    const mark = `${plan.id}/${this.search}`
    if (this.#listedFor !== mark) {
      const samePlan = this.#listedFor.startsWith(`${plan.id}/`)
      this.#listedFor = mark
      if (!samePlan) {
        this.open = this.lap = this.several = this.debrief = null
        this.ticked = []
        this.against = 'plan'
        const { data } = await answer(
          client.GET('/api/plans/{plan_id}/beside', { params: { path: { plan_id: plan.id } } }),
        )
        this.plans = data ?? []
      }
      await this.list()
    }
    const wanted = this.view.run ?? this.#firstHere()
    await this.look(wanted, this.view.lap)
  }

  #firstHere(): number | null {
    const runs = this.here
    const open = this.bench.open
    const own =
      runs.find((run) => run.plan_id === open?.id) ?? runs.find((run) => run.car === open?.car.name)
    return (own ?? runs[0])?.id ?? null
  }

  async list(): Promise<void> {
    const plan = this.bench.open
    if (!plan) return
    const { data, error } = await answer(
      client.GET('/api/plans/{plan_id}/season', {
        params: { path: { plan_id: plan.id }, query: { search: this.search } },
      }),
    )
    this.trouble = data ? '' : sentence(error)
    this.season = data ?? { events: [], runs: [], session_names: {} }
  }

  /** Look at a run, and at a lap of it: the best unless another is named. */
  async look(run: number | null, lap: number | null = null): Promise<void> {
    if (run === null) return
    const asked = (this.#looked += 1)
    if (this.open?.id !== run) {
      const { data, error } = await answer(
        client.GET('/api/runs/{run_id}', { params: { path: { run_id: run } } }),
      )
      if (asked !== this.#looked) return
      this.trouble = data ? '' : sentence(error)
      if (!data) {
        this.view.run = this.view.lap = null
        return
      }
      this.open = data
      this.lap = null
    }
    this.view.run = run
    void this.askChanged(run)
    const number = lap ?? this.open?.best ?? null
    this.view.lap = number
    if (number === null || this.open?.run.log === null) return
    await this.hold(number)
  }

  /** Hold a lap of the open run against the prediction, or the benchmark. */
  async hold(number: number): Promise<void> {
    const run = this.open
    const against = this.against
    if (!run || this.lap?.number === number) return
    const { data, error } = await answer(
      client.GET('/api/runs/{run_id}/laps/{number}', {
        params: { path: { run_id: run.id, number }, query: { against } },
      }),
    )
    if (this.open?.id !== run.id || this.view.lap !== number || this.against !== against) return
    this.trouble = data ? '' : sentence(error)
    if (data) this.lap = data
    else if (against !== 'plan') this.against = 'plan'
  }

  /** The number of a run's best lap. */
  async bestOf(run: number): Promise<number | null> {
    const { data } = await answer(
      client.GET('/api/runs/{run_id}', { params: { path: { run_id: run } } }),
    )
    return data?.best ?? null
  }

  async holdAgainst(lap: string): Promise<void> {
    const number = this.lap?.number ?? this.view.lap
    this.against = lap
    this.lap = null
    if (number !== null) await this.hold(number)
  }

  /** What is said of a lap is said in the units of the page. */
  async sayAgain(): Promise<void> {
    const number = this.lap?.number
    this.several = this.debrief = null
    if (number === undefined) return
    this.lap = null
    await this.hold(number)
  }

  async askChanged(run: number): Promise<void> {
    const { data } = await answer(
      client.GET('/api/runs/{run_id}/changed', { params: { path: { run_id: run } } }),
    )
    if (data) this.changed = { ...this.changed, [run]: data }
  }

  async together(): Promise<void> {
    const runs = this.taken
    if (runs.length === 0) return
    const { data, error } = await answer(client.GET('/api/laps', { params: { query: { runs } } }))
    if (runs.join() !== this.taken.join()) return
    this.trouble = data ? '' : sentence(error)
    this.several = data ?? null
  }

  async lookBack(corner: number): Promise<void> {
    const plan = this.bench.open
    if (!plan) return
    const { data, error } = await answer(
      client.GET('/api/plans/{plan_id}/corners/{corner}/history', {
        params: { path: { plan_id: plan.id, corner } },
      }),
    )
    // Another corner, or plan, may have been asked for since.
    if (this.bench.open?.id !== plan.id || (this.view.corner ?? 0) !== corner) return
    this.trouble = data ? '' : sentence(error)
    this.past = data ?? null
  }

  async talkOver(event: number): Promise<void> {
    this.working = 'Preparing the debrief…'
    const { data, error } = await answer(
      client.GET('/api/events/{event_id}/debrief', { params: { path: { event_id: event } } }),
    )
    this.working = ''
    this.trouble = data ? '' : sentence(error)
    this.debrief = data ?? null
  }

  tick(run: number, on: boolean): void {
    const others = this.ticked.filter((id) => id !== run)
    this.ticked = on ? [...others, run] : others
    this.several = null
  }

  async simulate(wanted: SimulatedRun): Promise<void> {
    const plan = this.bench.open
    if (!plan) return
    this.working = 'Simulating the run…'
    this.trouble = ''
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/logs/simulated', {
        params: { path: { plan_id: plan.id } },
        body: { wanted, place: this.place },
      }),
    )
    this.working = ''
    if (data) await this.arrived(data.run_id)
    else this.trouble = sentence(error)
  }

  /** A run whose laps will be typed. */
  async begin(): Promise<void> {
    const plan = this.bench.open
    if (!plan) return
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/runs', {
        params: { path: { plan_id: plan.id } },
        body: this.place,
      }),
    )
    if (data) await this.arrived(data.run_id)
    else this.trouble = sentence(error)
  }

  /** Where a new run belongs: beside the open one, where that was driven here. */
  get place(): RunPlace {
    const beside = this.open && this.here.some((run) => run.id === this.open?.id) ? this.open : null
    return {
      name: null,
      event_id: beside?.event_id ?? null,
      session: beside?.session ?? null,
      certain: false,
    }
  }

  /** Show a run that has just been kept. */
  async arrived(run: number): Promise<void> {
    this.open = this.lap = this.several = this.debrief = null
    this.view.lap = null
    this.view.logbookTab = 'run'
    await this.list()
    await this.look(run)
  }

  async makeEvent(name: string): Promise<void> {
    const plan = this.bench.open
    if (!plan) return
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/events', {
        params: { path: { plan_id: plan.id } },
        body: { name },
      }),
    )
    this.trouble = data ? '' : sentence(error)
    if (!data) return
    if (this.open && this.open.event_id === null)
      await this.write({ belongs: { event_id: data.event_id, session: 1 } })
    await this.list()
  }

  async addSession(
    event: number,
    kind: 'test' | 'practice' | 'qualifying' | 'race',
  ): Promise<void> {
    const { error, response } = await client.PUT('/api/events/{event_id}', {
      params: { path: { event_id: event } },
      body: { add_session: kind },
    })
    this.trouble = response.ok ? '' : sentence(error)
    await this.list()
  }

  /** Write what is known of the open run. Whether it was taken. */
  async write(edit: RunEdit): Promise<boolean> {
    const run = this.open
    if (!run) return false
    const { data, error } = await answer(
      client.PUT('/api/runs/{run_id}', { params: { path: { run_id: run.id } }, body: edit }),
    )
    this.trouble = data ? '' : sentence(error)
    if (!data) return false
    if (this.open?.id === run.id) this.open = data
    this.several = this.debrief = null
    void this.askChanged(run.id)
    await this.list()
    return true
  }

  async drop(): Promise<void> {
    const run = this.open
    if (!run) return
    const path = { params: { path: { kind: 'run' as const, item_id: run.id } } }
    await answer(client.DELETE('/api/library/{kind}/{item_id}', path))
    this.open = this.lap = this.several = this.debrief = null
    this.view.run = this.view.lap = null
    await this.list()
    this.bench.say(`${run.run.name} removed from the logbook.`, async () => {
      await answer(client.POST('/api/library/{kind}/{item_id}/restore', path))
      await this.list()
      await this.look(run.id)
    })
  }
}
