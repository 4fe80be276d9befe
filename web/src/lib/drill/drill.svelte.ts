import {
  answer,
  client,
  sentence,
  type DrillAnswer,
  type DrillQuestion,
  type DrillScored,
  type DrillStanding,
} from '../api/client'
import type { paths } from '../api/schema'
import { recallText, remember } from '../state/memory'
import type { Workbench } from '../state/workbench.svelte'

type RoundQuery = NonNullable<
  paths['/api/plans/{plan_id}/drill/round']['get']['parameters']['query']
>
export type Order = NonNullable<RoundQuery['order']>
export type Asked = NonNullable<RoundQuery['kinds']>

/** What is answered: figures in SI, or a word. */
export type Given = Pick<DrillAnswer, 'figures' | 'word'>

/** A lap learned by heart: how it sits, and the round of questions that is under way. */
export class Drill {
  standing = $state.raw<DrillStanding | null>(null)
  lap = $state('plan')
  driver = $state(recallText('driver') ?? '')
  order = $state<Order>('due')
  asked = $state<Asked>('must')
  missing = $state(false)
  questions = $state.raw<DrillQuestion[]>([])
  at = $state(0)
  scored = $state.raw<DrillScored | null>(null)
  /** How each question of the round was answered, by its place in it. */
  answers = $state.raw<DrillScored[]>([])
  trouble = $state('')
  busy = $state(false)
  #asking = 0
  #askedAt = 0

  constructor(private readonly bench: Workbench) {}

  get question(): DrillQuestion | null {
    return this.questions[this.at] ?? null
  }

  get running(): boolean {
    return this.questions.length > 0
  }

  get over(): boolean {
    return this.running && this.at >= this.questions.length
  }

  /** How the lap sits now; an answer about another plan, lap or driver that comes late is dropped. */
  async load(): Promise<void> {
    const open = this.bench.open
    if (!open) return
    const number = (this.#asking += 1)
    const { data, error } = await answer(
      client.GET('/api/plans/{plan_id}/drill', {
        params: { path: { plan_id: open.id }, query: { lap: this.lap, driver: this.driver } },
      }),
    )
    if (number !== this.#asking) return
    this.standing = data ?? null
    this.trouble = data ? '' : sentence(error)
    // Until a driver is named here, it is the one who practised last.
    const last = data?.drivers[0]
    if (recallText('driver') === null && last && this.driver === '' && !this.running) {
      this.driver = last
      await this.load()
    }
  }

  /** Whose cards they are. */
  async be(driver: string): Promise<void> {
    this.driver = driver.trim().slice(0, 60)
    remember('driver', this.driver)
    this.stop()
    await this.load()
  }

  /** The plan's lap, or one of the first laps. */
  async turnTo(lap: string): Promise<void> {
    this.lap = lap
    this.stop()
    await this.load()
  }

  /** Begin a round; about one corner alone where one is named. */
  async begin(corner: number | null = null): Promise<void> {
    const open = this.bench.open
    if (!open) return
    this.busy = true
    const { data, error } = await answer(
      client.GET('/api/plans/{plan_id}/drill/round', {
        params: {
          path: { plan_id: open.id },
          query: {
            lap: this.lap,
            driver: this.driver,
            order: corner === null ? this.order : 'lap',
            kinds: corner === null ? this.asked : 'all',
            missing: this.missing,
            seed: Math.floor(Math.random() * 1e9),
            ...(corner !== null && { corner }),
          },
        },
      }),
    )
    this.busy = false
    this.trouble = data ? '' : sentence(error)
    if (data) this.ask(data.questions)
    if (data?.questions.length === 0) this.trouble = 'Nothing is due now.'
  }

  /** Ask questions that are at hand. */
  ask(questions: DrillQuestion[]): void {
    this.questions = questions
    this.answers = []
    this.scored = null
    this.at = 0
    this.#askedAt = performance.now()
  }

  async give(given: Given): Promise<void> {
    const [open, question] = [this.bench.open, this.question]
    if (!open || !question || this.scored || this.busy) return
    this.busy = true
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/drill/answers', {
        params: { path: { plan_id: open.id } },
        body: {
          driver: this.driver,
          lap: this.lap,
          corner: question.corner,
          kind: question.kind,
          missing: question.missing,
          took_s: (performance.now() - this.#askedAt) / 1000,
          ...given,
        } as DrillAnswer,
      }),
    )
    this.busy = false
    this.trouble = data ? '' : sentence(error)
    if (!data || question !== this.question) return
    this.scored = data
    this.answers = [...this.answers, data]
  }

  next(): void {
    this.scored = null
    this.at += 1
    this.#askedAt = performance.now()
    if (this.over) void this.load()
  }

  stop(): void {
    this.questions = []
    this.answers = []
    this.scored = null
    this.at = 0
  }
}
