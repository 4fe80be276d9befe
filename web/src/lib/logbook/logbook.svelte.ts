import {
  answer,
  client,
  fileFault,
  sendLog,
  sentence,
  type Answer,
  type LapAgainst,
  type ListedRun,
  type OpenRun,
  type SimulatedRun,
} from '../api/client'
import type { View } from '../state/view.svelte'
import type { Workbench } from '../state/workbench.svelte'

/** Runs on the circuit of the open plan, the one that is looked at, and a lap of it. */
export class Logbook {
  runs = $state.raw<ListedRun[] | null>(null)
  open = $state.raw<OpenRun | null>(null)
  lap = $state.raw<LapAgainst | null>(null)
  trouble = $state('')
  working = $state('')
  #listedFor = 0

  constructor(
    private readonly bench: Workbench,
    private readonly view: View,
  ) {}

  async load(): Promise<void> {
    const plan = this.bench.open
    if (!plan) return
    if (this.#listedFor !== plan.id) {
      this.#listedFor = plan.id
      this.open = this.lap = null
      await this.#list()
    }
    await this.look(this.view.run ?? this.runs?.[0]?.id ?? null, this.view.lap)
  }

  async #list(): Promise<void> {
    const plan = this.bench.open
    if (!plan) return
    const { data, error } = await answer(
      client.GET('/api/plans/{plan_id}/runs', { params: { path: { plan_id: plan.id } } }),
    )
    this.trouble = data ? '' : sentence(error)
    this.runs = data ?? []
  }

  /** Look at a run, and at a lap of it: the best unless another is named. */
  async look(run: number | null, lap: number | null = null): Promise<void> {
    if (run === null) return
    if (this.open?.id !== run) {
      const { data, error } = await answer(
        client.GET('/api/runs/{run_id}', { params: { path: { run_id: run } } }),
      )
      this.trouble = data ? '' : sentence(error)
      if (!data) {
        this.view.run = this.view.lap = null
        return
      }
      this.open = data
      this.lap = null
    }
    this.view.run = run
    const number = lap ?? this.open?.best ?? null
    this.view.lap = number
    if (number === null || this.lap?.number === number) return
    const { data, error } = await answer(
      client.GET('/api/runs/{run_id}/laps/{number}', {
        params: { path: { run_id: run, number } },
      }),
    )
    this.trouble = data ? '' : sentence(error)
    if (data && this.open?.id === run) this.lap = data
  }

  async read(file: File): Promise<void> {
    const plan = this.bench.open
    if (!plan) return
    await this.#made(`${file.name} is being read…`, () => sendLog(plan.id, file))
  }

  async simulate(wanted: SimulatedRun): Promise<void> {
    const plan = this.bench.open
    if (!plan) return
    await this.#made('The simulated driver is on the way…', () =>
      answer(
        client.POST('/api/plans/{plan_id}/logs/simulated', {
          params: { path: { plan_id: plan.id } },
          body: wanted,
        }),
      ),
    )
  }

  async say(changed: { name?: string; remarks?: string }): Promise<void> {
    const run = this.open
    if (!run) return
    const { data, error } = await answer(
      client.PUT('/api/runs/{run_id}', { params: { path: { run_id: run.id } }, body: changed }),
    )
    this.trouble = data ? '' : sentence(error)
    if (data) this.open = data
    await this.#list()
  }

  async drop(): Promise<void> {
    const run = this.open
    if (!run) return
    const path = { params: { path: { kind: 'run' as const, item_id: run.id } } }
    await answer(client.DELETE('/api/library/{kind}/{item_id}', path))
    this.open = this.lap = null
    this.view.run = this.view.lap = null
    await this.#list()
    this.bench.say(`${run.run.name} is taken out of the logbook.`, async () => {
      await answer(client.POST('/api/library/{kind}/{item_id}/restore', path))
      await this.#list()
      await this.look(run.id)
    })
  }

  async #made(said: string, make: () => Promise<Answer<{ run_id: number }>>): Promise<void> {
    this.working = said
    this.trouble = ''
    const { data, error } = await make()
    this.working = ''
    if (!data) {
      this.trouble = fileFault(error)
      return
    }
    this.open = this.lap = null
    this.view.lap = null
    await this.#list()
    await this.look(data.run_id)
  }
}
