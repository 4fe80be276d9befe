import {
  answer,
  client,
  sentence,
  type DrillDeed,
  type DrillRhythm,
  type DrillRun,
} from '../api/client'
import type { Workbench } from '../state/workbench.svelte'
import type { Drill } from './drill.svelte'

export const RATES = [50, 75, 100, 125, 150]

interface Press {
  deed: DrillDeed
  at_s: number
}

/** Where a time lies in rising times: the place before it, and the share on to the next. */
export function within(times: number[], at: number): { index: number; share: number } {
  let [low, high] = [0, times.length - 1]
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if ((times[middle] ?? 0) <= at) low = middle
    else high = middle
  }
  const [from, to] = [times[low] ?? 0, times[high] ?? 1]
  return { index: low, share: to > from ? Math.min(Math.max((at - from) / (to - from), 0), 1) : 0 }
}

function value(values: number[], where: { index: number; share: number }): number {
  const from = values[where.index] ?? 0
  return from + where.share * ((values[where.index + 1] ?? from) - from)
}

/**
 * The lap in true time. The time is read off the browser's clock whenever it is asked for, so that
 * a slow page loses frames and no time; a press has the time at which the key went down.
 */
export class Run {
  lap = $state.raw<DrillRun | null>(null)
  trouble = $state('')
  running = $state(false)
  /** Seconds of the lap, as last looked at. */
  now = $state(0)
  ratePct = $state(100)
  loop = $state(false)
  /** First and last corner of the section; null for the whole lap. */
  section = $state<[number, number] | null>(null)
  presses = $state.raw<Press[]>([])
  rhythm = $state.raw<DrillRhythm | null>(null)
  #startedAt = 0
  #startedS = 0
  #frame = 0
  #asked = 0
  #passed = 0

  constructor(
    private readonly bench: Workbench,
    private readonly drill: Drill,
  ) {}

  async load(): Promise<void> {
    const open = this.bench.open
    if (!open) return
    this.stop()
    const number = (this.#asked += 1)
    const { data, error } = await answer(
      client.GET('/api/plans/{plan_id}/drill/lap', {
        params: { path: { plan_id: open.id }, query: { lap: this.drill.lap } },
      }),
    )
    if (number !== this.#asked) return
    this.lap = data ?? null
    this.trouble = data ? '' : sentence(error)
    this.choose(null)
  }

  /** From when to when is run [s]; a section begins before its first corner is called. */
  get stretch(): [number, number] {
    const lap = this.lap
    if (!lap) return [0, 0]
    if (!this.section) return [0, lap.lap_time_s]
    const [from, to] = this.section.map((n) => lap.corners[n])
    const call = lap.calls.find((one) => one.corner === this.section?.[0])
    const begins = Math.min(this.timeAt(from?.from_m ?? 0) - 4, (call?.begins_s ?? 0) - 0.5)
    const ends = this.timeAt(to?.ends_m ?? lap.length_m) + 2
    return [Math.max(begins, 0), Math.min(ends > begins ? ends : lap.lap_time_s, lap.lap_time_s)]
  }

  timeAt(placeM: number): number {
    return this.lap ? value(this.lap.t_s, within(this.lap.s_m, placeM)) : 0
  }

  /** Place, speed and gear of now. */
  get place(): { at_m: number; v_ms: number; gear: number; x: number; y: number } {
    const lap = this.lap
    if (!lap) return { at_m: 0, v_ms: 0, gear: 1, x: 0, y: 0 }
    const where = within(lap.t_s, this.now)
    return {
      at_m: value(lap.s_m, where),
      v_ms: value(lap.v_ms, where),
      gear: lap.gear[where.index] ?? 1,
      x: value(lap.x_m, where),
      y: value(lap.y_m, where),
    }
  }

  /** Lap time at a moment of the browser's clock. */
  lapTimeAt(moment: number): number {
    return this.#startedS + ((moment - this.#startedAt) / 1000) * (this.ratePct / 100)
  }

  start(): void {
    if (!this.lap || this.running) return
    const [from, until] = this.stretch
    if (this.now < from || this.now >= until - 0.01) this.#rewind(from)
    this.#startedS = this.now
    this.#startedAt = performance.now()
    this.running = true
    this.#frame = requestAnimationFrame(() => this.#look())
  }

  stop(): void {
    if (this.running) this.now = Math.min(this.lapTimeAt(performance.now()), this.stretch[1])
    this.running = false
    cancelAnimationFrame(this.#frame)
  }

  turn(): void {
    if (this.running) this.stop()
    else this.start()
  }

  setRate(pct: number): void {
    const running = this.running
    this.stop()
    this.ratePct = pct
    if (running) this.start()
  }

  choose(section: [number, number] | null): void {
    this.stop()
    this.section = section
    this.#rewind(this.stretch[0])
    this.rhythm = null
  }

  press(deed: DrillDeed, moment: number): void {
    if (!this.running) return
    this.presses = [...this.presses, { deed, at_s: this.lapTimeAt(moment) }]
  }

  #rewind(to: number): void {
    this.now = to
    this.presses = []
    this.#passed = 0
  }

  #look(): void {
    const [from, until] = this.stretch
    const at = this.lapTimeAt(performance.now())
    this.now = Math.min(at, until)
    const passed = this.lap?.corners.filter((c) => this.timeAt(c.ends_m) < at).length ?? 0
    if (passed > this.#passed && this.presses.length > 0) void this.#score(false)
    this.#passed = passed
    if (at >= until) {
      if (this.presses.length > 0) void this.#score(true)
      if (!this.loop) {
        this.running = false
        return
      }
      this.#rewind(from)
      this.#startedS = from
      this.#startedAt = performance.now()
    }
    this.#frame = requestAnimationFrame(() => this.#look())
  }

  /** Have what was pressed so far held against the lap; kept once the stretch is over. */
  async #score(over: boolean): Promise<void> {
    const open = this.bench.open
    if (!open || !this.lap) return
    const [begins_s, until_s] = this.stretch
    // Of a section its own corners count, from the first thing that is done for them.
    const first = this.lap.beats.find((beat) => beat.corner === this.section?.[0])
    const from_s = first ? Math.max(first.at_s - 0.001, begins_s) : begins_s
    const presses = this.presses
    const deeds = this.lap.deeds.map((one) => one.deed)
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/drill/rhythm', {
        params: { path: { plan_id: open.id } },
        body: {
          driver: this.drill.driver,
          lap: this.drill.lap,
          presses,
          from_s,
          until_s: over ? until_s : Math.min(this.now, until_s),
          deeds,
          keep: over,
        },
      }),
    )
    this.trouble = data ? '' : sentence(error)
    if (data) this.rhythm = data
  }
}
