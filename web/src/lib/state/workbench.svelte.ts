import {
  answer,
  client,
  importText,
  sentence,
  sentences,
  type Answer,
  type Assumptions,
  type Car,
  type CarEdit,
  type Change,
  type Choice,
  type CircuitEdit,
  type Comparison,
  type ConditionsSheet,
  type Conflict,
  type ErrorBody,
  type LapWords,
  type LineSettings,
  type OpenPlan,
  type PlanEdit,
  type Result,
  type Revisions,
  type Setting,
  type TakenFigure,
  type Units,
} from '../api/client'
import { timeOfDay } from '../parts/format'
import { Figures } from './figures.svelte'
import { remember } from './memory'
import { askOpening } from './opening'

/** A figure that was refused: which one, and the sentence that says why. */
export interface Refusal {
  key: string
  message: string
}

/** A write that was not made, what stands in its way, and what to do about it. */
export interface Standoff {
  sentence: string
  conflict: Conflict
  waiting: Change[]
  edits: CircuitEdit[]
  retry: 'undo' | 'redo' | null
}

/** A word on something done, with the way back. */
export interface Notice {
  text: string
  undo: (() => Promise<void>) | null
}

/** What another part of the page has yet to keep. */
export interface WaitingEdits {
  readonly waiting: { edit: CircuitEdit }[]
  settle: () => Promise<void>
}

interface Live {
  assumptions: Assumptions
  result: Result | null
  words: LapWords | null
  comparison: Comparison | null
}

/** Letting go by pause: a figure stepped and then left alone this long is kept. */
const PAUSE_MS = 900

/** Name of the figure a change belongs to: the field, and for a radius its corner. */
export function changeKey(change: Pick<Change, 'field'> & { corner?: string | null }): string {
  return change.corner ? `${change.field}:${change.corner}` : change.field
}

function withChange(changes: Change[], change: Change): Change[] {
  const key = changeKey(change)
  return [...changes.filter((other) => changeKey(other) !== key), change]
}

/** So long a notice stays [ms], and one that takes something back. */
const NOTICE_MS = 10_000
const UNDO_MS = 120_000

/**
 * The plan that is open. Figures being stepped are asked about and shown at once, and kept as one
 * revision when they are let go of. Requests go out one after the other; what is changed while
 * one is under way goes with the next. Nothing that was typed is dropped without a word.
 */
export class Workbench {
  open = $state.raw<OpenPlan | null>(null)
  live = $state.raw<Live | null>(null)
  /** Whether the store holds no plan at all; null until it is known. */
  empty = $state<boolean | null>(null)
  refusal = $state.raw<Refusal | null>(null)
  standoff = $state.raw<Standoff | null>(null)
  notice = $state.raw<Notice | null>(null)
  trouble = $state('')
  saving = $state(false)
  pending = $state.raw<Change[]>([])

  /** Figures of the circuit's sheet that wait to be kept, while that sheet is open. */
  waitingEdits = $state.raw<WaitingEdits | null>(null)

  /** What the figures are called, and how they are stepped. */
  readonly figures = new Figures()

  /** The units that the lap is told in. */
  units: Units = 'metric'

  #ask = false
  #keep = false
  /** The changes that the lap shown stands on. */
  #shown: Change[] = []
  /** What will perhaps be changed next. */
  #coming: Change[] = []
  #writes: Promise<unknown> = Promise.resolve()
  #running: Promise<void> | null = null
  #pause: ReturnType<typeof setTimeout> | undefined

  get assumptions(): Assumptions | null {
    return this.live?.assumptions ?? null
  }
  /** A figure in effect by its name; null where it is not stated. */
  figure(name: string): number | null {
    return this.assumptions?.figures[name] ?? null
  }
  get result(): Result | null {
    return this.live?.result ?? null
  }
  /** What is said of the lap, in the units that are spoken. */
  get words(): LapWords | null {
    return this.live?.words ?? null
  }
  get comparison(): Comparison | null {
    return this.live?.comparison ?? null
  }

  /** Open the plan that was asked for when the page was. */
  async start(): Promise<void> {
    const { data, error } = await askOpening()
    if (!data) this.trouble = sentence(error)
    else if (data.plan) this.#show(data.plan)
    else this.empty = true
  }

  /** Open a kept plan; true when it could be opened. */
  async show(id: number): Promise<boolean> {
    await this.settle()
    const { data, error } = await answer(
      client.GET('/api/plans/{plan_id}', { params: { path: { plan_id: id } } }),
    )
    if (!data) {
      this.trouble = sentence(error)
      return false
    }
    this.#show(data)
    return true
  }

  #show(open: OpenPlan): void {
    this.standoff = null
    this.refusal = null
    this.pending = []
    this.#take(open)
    remember('plan', String(open.id))
  }

  /** Keep a plan file and open it; what is wrong with it otherwise, by field or by line and column. */
  async takeFile(file: File): Promise<string[]> {
    const { data, error } = await importText(await file.text())
    if (!data) return sentences(error).map((fault) => `${file.name}: ${fault}`)
    await this.show(data.plan_id)
    this.say(
      data.outcome === 'known'
        ? `${data.name} is already here with exactly this content.`
        : `${data.name} was imported.`,
    )
    return []
  }

  /** Ask what a change is worth, and keep it once it is let go of. */
  change(change: Change): void {
    this.pending = withChange(this.pending, change)
    this.#ask = true
    clearTimeout(this.#pause)
    this.#pause = setTimeout(() => void this.settle(), PAUSE_MS)
    void this.#work()
  }

  /** Have what will perhaps be asked next worked out meanwhile; of several, one will be. */
  foresee(coming: Change[]): void {
    this.#coming = coming
    // Named together with a change, it goes with what that asks.
    queueMicrotask(() => {
      if (!this.#running) this.#workAhead()
    })
  }

  #workAhead(): void {
    if (!this.open || this.standoff || this.#coming.length === 0) return
    void answer(
      client.POST('/api/plans/{plan_id}/foresee', {
        params: { path: { plan_id: this.open.id } },
        body: {
          ...this.#asked(this.open),
          ways: this.#coming.map((change) => withChange(this.pending, change).map(complete)),
        },
      }),
    )
  }

  /** Where the plan and its baseline stand, and the units that are spoken. */
  #asked(open: OpenPlan) {
    const against = open.baseline
    return {
      revisions: open.revisions,
      against: against && { plan_id: against.plan_id, revisions: against.revisions },
      units: this.units,
    }
  }

  /** Keep what was changed; resolves once it is kept, refused, or stands against another write. */
  async settle(): Promise<void> {
    clearTimeout(this.#pause)
    if (this.pending.length > 0 && !this.standoff) this.#keep = true
    await this.#work()
  }

  /** Whether everything that was changed is kept. */
  get kept(): boolean {
    return this.pending.length === 0 && (this.waitingEdits?.waiting.length ?? 0) === 0
  }

  /** On leaving the page there is no time to wait for an answer. */
  settleAtOnce(): void {
    const edits = this.waitingEdits?.waiting.map((one) => one.edit) ?? []
    if (this.open && !this.standoff && edits.length > 0 && this.pending.length === 0)
      void fetch(`/api/plans/${this.open.id}/circuit`, {
        method: 'POST',
        keepalive: true,
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ base: this.open.revisions, edits }),
      }).catch(() => undefined)
    if (!this.open || this.pending.length === 0 || this.standoff) return
    void fetch(`/api/plans/${this.open.id}/changes`, {
      method: 'POST',
      keepalive: true,
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ base: this.open.revisions, changes: this.pending }),
    }).catch(() => undefined)
    this.pending = []
  }

  /** Have all that is said of the lap said anew in other units. */
  async speakIn(units: Units): Promise<void> {
    this.units = units
    if (!this.open || this.words?.units === units) return
    if (this.pending.length > 0) {
      this.#ask = true
      await this.#work()
    } else await this.catchUp()
  }

  /** Take what another page has written meanwhile, unless something here waits to be kept. */
  async catchUp(): Promise<void> {
    if (!this.open || this.pending.length > 0 || this.#running || this.standoff) return
    const before = this.open
    const { data } = await answer(
      client.GET('/api/plans/{plan_id}', { params: { path: { plan_id: before.id } } }),
    )
    if (data && this.open === before && this.pending.length === 0) this.#take(data)
  }

  async choose(choice: Choice): Promise<boolean> {
    return this.#act((open) =>
      client.POST('/api/plans/{plan_id}/choice', {
        params: { path: { plan_id: open.id } },
        body: { base: open.revisions, choice },
      }),
    )
  }

  /** Write the line wanted on the plan's road; the sentence of a refusal, or nothing. */
  keepLine(settings: LineSettings, job: string | null): Promise<string | null> {
    return this.#written((open) =>
      client.POST('/api/plans/{plan_id}/line', {
        params: { path: { plan_id: open.id } },
        body: { base: open.revisions, settings, job },
      }),
    )
  }

  /** Put the plan where a study found it best, as one step; the sentence of a refusal, or nothing. */
  takeSettings(settings: Setting[]): Promise<string | null> {
    return this.#written((open) =>
      client.POST('/api/plans/{plan_id}/take', {
        params: { path: { plan_id: open.id } },
        body: { base: open.revisions, settings },
      }),
    )
  }

  /** Take what runs have taught into the plan; the sentence of a refusal, or nothing. */
  takeFit(job_id: string, taken: TakenFigure[]): Promise<string | null> {
    return this.#written((open) =>
      client.POST('/api/plans/{plan_id}/fits/take', {
        params: { path: { plan_id: open.id } },
        body: { base: open.revisions, job_id, taken },
      }),
    )
  }

  /** Take the weather of a moment into the plan as one step; the sentence of a refusal, or nothing. */
  takeConditions(conditions: ConditionsSheet, source: string): Promise<string | null> {
    return this.#written((open) =>
      client.POST('/api/plans/{plan_id}/conditions', {
        params: { path: { plan_id: open.id } },
        body: { base: open.revisions, conditions, source },
      }),
    )
  }

  /** Edit the car, its setup or its tyres as one step; the sentence of a refusal, or nothing. */
  editCar(edit: CarEdit): Promise<string | null> {
    return this.#written((open) =>
      client.POST('/api/plans/{plan_id}/car', {
        params: { path: { plan_id: open.id } },
        body: { base: open.revisions, edit },
      }),
    )
  }

  /** Keep a car as a new one and drive the plan with it; the sentence of a refusal, or nothing. */
  takeNewCar(car: Car): Promise<string | null> {
    return this.#written((open) =>
      client.POST('/api/plans/{plan_id}/car/new', {
        params: { path: { plan_id: open.id } },
        body: { base: open.revisions, car },
      }),
    )
  }

  /** Write what is the plan's own, or a note on a corner; the sentence of a refusal, or nothing. */
  editPlan(edit: PlanEdit): Promise<string | null> {
    return this.#written((open) =>
      client.POST('/api/plans/{plan_id}/edit', {
        params: { path: { plan_id: open.id } },
        body: { base: open.revisions, edit },
      }),
    )
  }

  /** A write whose refusal is shown where it was asked for. */
  async #written(
    request: (open: OpenPlan) => Promise<{ data?: OpenPlan; error?: unknown }>,
  ): Promise<string | null> {
    let refused: string | null = null
    await this.#act(
      async (open) => {
        const reply = await request(open)
        if (reply.error) refused = sentence(reply.error as ErrorBody)
        return reply
      },
      null,
      true,
    )
    return refused
  }

  /** Write edits of the circuit's sheet as one step; the sentence of a refusal, or nothing. */
  editCircuit(edits: CircuitEdit[]): Promise<string | null> {
    return this.#inTurn(() => this.#editCircuit(edits))
  }

  async #editCircuit(edits: CircuitEdit[]): Promise<string | null> {
    await this.settle()
    const open = this.open
    if (!open || this.standoff) return null
    this.saving = true
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/circuit', {
        params: { path: { plan_id: open.id } },
        body: { base: open.revisions, edits },
      }),
    )
    this.saving = false
    if (data) {
      this.#take(data)
      return null
    }
    if (!error?.conflict) return sentence(error)
    const { conflict } = error
    this.standoff = { sentence: sentence(error), conflict, waiting: [], edits, retry: null }
    return null
  }

  /** What was typed into the circuit's sheet is kept first, and so is what undo takes back. */
  async undo(force = false): Promise<void> {
    await this.waitingEdits?.settle()
    await this.#turn('undo', force)
  }
  async redo(force = false): Promise<void> {
    await this.waitingEdits?.settle()
    await this.#turn('redo', force)
  }

  async compareWith(
    planId: number,
    revisions: Revisions | null,
    title: string | null,
  ): Promise<void> {
    await this.#act((open) =>
      client.PUT('/api/plans/{plan_id}/baseline', {
        params: { path: { plan_id: open.id } },
        body: { plan_id: planId, revisions, title },
      }),
    )
  }

  /** Pin the lap as it stands now. */
  async pinBaseline(): Promise<void> {
    await this.settle()
    if (!this.open?.result) return
    await this.compareWith(this.open.id, this.open.revisions, `This plan at ${timeOfDay()}`)
  }

  async dropBaseline(): Promise<void> {
    await this.#act((open) =>
      client.DELETE('/api/plans/{plan_id}/baseline', { params: { path: { plan_id: open.id } } }),
    )
  }

  /** Put the waiting changes on top of what was written meanwhile. */
  async merge(): Promise<void> {
    const standoff = this.standoff
    if (!standoff || !this.open) return
    this.standoff = null
    const { data, error } = await answer(
      client.GET('/api/plans/{plan_id}', { params: { path: { plan_id: this.open.id } } }),
    )
    if (!data) {
      this.standoff = standoff
      this.trouble = sentence(error)
      return
    }
    this.pending = standoff.waiting
    this.#take(data)
    await this.settle()
    if (standoff.edits.length > 0) {
      const refused = await this.editCircuit(standoff.edits)
      if (refused) this.say(refused)
    }
  }

  /** Let the waiting changes go and take what was written meanwhile. */
  async reload(): Promise<void> {
    this.standoff = null
    this.pending = []
    if (this.open) await this.show(this.open.id)
  }

  /** A figure that is not a number never leaves the page, but is refused the same way. */
  refuse(key: string, message: string): void {
    this.refusal = { key, message }
  }

  clearRefusal(key: string): void {
    if (this.refusal?.key === key) this.refusal = null
  }

  /** A notice stays for a while, or until the next: longer where it is the only way back. */
  say(text: string, undo: (() => Promise<void>) | null = null): void {
    const notice = { text, undo }
    this.notice = notice
    setTimeout(
      () => {
        if (this.notice === notice) this.notice = null
      },
      undo ? UNDO_MS : NOTICE_MS,
    )
  }

  #take(open: OpenPlan): void {
    this.open = open
    this.#shown = []
    void this.figures.load(open.plan.car.kind ?? 'car')
    this.trouble = open.trouble
      ? `This plan’s lap cannot be calculated: ${open.trouble}. Undo, or change the figure that prevents it.`
      : ''
    this.empty = false
    if (this.pending.length > 0) {
      this.#ask = true
      void this.#work()
    } else this.live = open
  }

  async #turn(way: 'undo' | 'redo', force: boolean): Promise<void> {
    const path = way === 'undo' ? '/api/plans/{plan_id}/undo' : '/api/plans/{plan_id}/redo'
    await this.#act(
      (open) => client.POST(path, { params: { path: { plan_id: open.id }, query: { force } } }),
      way,
    )
  }

  /** Writes go one after the other, since each needs the revisions that the last one made. */
  #inTurn<T>(write: () => Promise<T>): Promise<T> {
    const turn = this.#writes.then(write, write)
    this.#writes = turn.catch(() => undefined)
    return turn
  }

  /** One write that is not a figure, after the figures that wait. */
  #act(
    send: (open: OpenPlan) => Promise<{ data?: OpenPlan; error?: unknown }>,
    retry: Standoff['retry'] = null,
    quietly = false,
  ): Promise<boolean> {
    return this.#inTurn(() => this.#write(send, retry, quietly))
  }

  async #write(
    send: (open: OpenPlan) => Promise<{ data?: OpenPlan; error?: unknown }>,
    retry: Standoff['retry'],
    quietly: boolean,
  ): Promise<boolean> {
    await this.settle()
    if (!this.open || this.standoff) return false
    this.saving = true
    const { data, error } = await answer(send(this.open))
    this.saving = false
    if (data) {
      this.refusal = null
      this.#take(data)
      return true
    }
    if (error?.conflict)
      this.standoff = {
        sentence: sentence(error),
        conflict: error.conflict,
        waiting: [],
        edits: [],
        retry,
      }
    else if (!quietly) this.say(sentence(error))
    return false
  }

  #work(): Promise<void> {
    this.#running ??= this.#loop().finally(() => (this.#running = null))
    return this.#running
  }

  async #loop(): Promise<void> {
    let hurried = false
    let named = true
    while (this.open && !this.standoff && (this.#keep || this.#ask)) {
      if (this.#keep) {
        this.#keep = false
        this.#ask = false
        if (this.pending.length > 0 && !(await this.#keepPending(this.open))) break
        named = false
      } else {
        this.#ask = false
        const asked = this.#askWhatIf(this.open)
        // While steps come faster than they are answered nobody knows which will be asked.
        named = !hurried
        if (named) this.#workAhead()
        await asked
        hurried = this.#ask
      }
    }
    if (!named) this.#workAhead()
  }

  async #askWhatIf(open: OpenPlan): Promise<void> {
    const changes = this.pending
    if (changes.length === 0) return
    const { data, error } = await answer(
      client.POST('/api/plans/{plan_id}/what-if', {
        params: { path: { plan_id: open.id } },
        body: { ...this.#asked(open), changes: changes.map(complete) },
      }),
    )
    if (this.open !== open) return
    if (data) {
      this.live = data
      this.#shown = changes
      this.trouble = ''
      for (const change of changes) this.clearRefusal(changeKey(change))
    } else this.#refused(changes, error)
  }

  async #keepPending(open: OpenPlan): Promise<boolean> {
    const sent = this.pending
    this.saving = true
    const reply: Answer<OpenPlan> = await answer(
      client.POST('/api/plans/{plan_id}/changes', {
        params: { path: { plan_id: open.id } },
        body: { base: open.revisions, changes: sent.map(complete) },
      }),
    )
    this.saving = false
    if (reply.data) {
      // Where a step went too far, what is kept is the figure before it; why stays with the step.
      for (const change of sent)
        if (!this.#shown.includes(change)) this.clearRefusal(changeKey(change))
      // What was stepped meanwhile waits on top of what is kept now.
      this.pending = this.pending.filter((change) => !sent.includes(change))
      this.#take(reply.data)
      return true
    }
    const conflict = reply.error?.conflict
    if (conflict) {
      this.standoff = {
        sentence: sentence(reply.error),
        conflict,
        waiting: this.pending,
        edits: [],
        retry: null,
      }
      return false
    }
    const goesOn = this.#refused(sent, reply.error)
    // What was let go of together with the refused one is still to be kept.
    if (goesOn && this.pending.length > 0) this.#keep = true
    return goesOn
  }

  /**
   * Take a refused change out; what else waits goes on, and so does the last value of the same
   * figure that was shown. Without an answer everything waits.
   */
  #refused(sent: Change[], error: Answer<OpenPlan>['error']): boolean {
    if (!error) {
      this.trouble = sentence(error)
      return false
    }
    const last = sent[sent.length - 1]
    if (!last) return false
    if (error.faults[0]?.path === '' && sent.length > 0) this.say(sentence(error))
    const key = changeKey(last)
    this.refusal = { key, message: sentence(error) }
    const before = this.#shown.find((change) => changeKey(change) === key)
    this.pending = this.pending.flatMap((change) => {
      if (change !== last) return [change]
      return before && before !== last ? [before] : []
    })
    if (this.pending.length === 0) this.live = this.open
    else if (!this.#isShown(this.pending)) this.#ask = true
    return true
  }

  #isShown(changes: Change[]): boolean {
    const shown = this.#shown
    return changes.length === shown.length && changes.every((change) => shown.includes(change))
  }
}

function complete(change: Change): Required<Pick<Change, 'hold_straights'>> & Change {
  return { ...change, hold_straights: change.hold_straights ?? false }
}
