import { tick } from 'svelte'
import { addressOf, placeOf, type Place } from './places'
import type { View } from './view.svelte'
import type { Workbench } from './workbench.svelte'

/** The place that is shown, as the address says it. */
export function placeShown(bench: Workbench, view: View): Place | null {
  if (!bench.open) return null
  return {
    plan: bench.open.id,
    page: view.page,
    circuitTab: view.circuitTab,
    carTab: view.carTab,
    conditionsTab: view.conditionsTab,
    tradeTab: view.tradeTab,
    raceTab: view.raceTab,
    logbookTab: view.logbookTab,
    drillTab: view.drillTab,
    axes: view.axesShown,
    ...(view.run !== null && { run: view.run, ...(view.lap !== null && { lap: view.lap }) }),
    ...(view.corner !== null && {
      corner: view.corner,
      ...(view.cornerOpen && { part: view.cornerPart }),
    }),
  }
}

/** Whether going from one address to the other is no more than another corner being chosen. */
function onlyAnotherCorner(from: string, to: string): boolean {
  const plain = (address: string): string =>
    addressOf({ plan: 0, page: 'lap', ...placeOf(address), corner: undefined })
  const part = (address: string): string | undefined => placeOf(address).part
  return plain(from) === plain(to) && part(from) === part(to)
}

/**
 * Keeps address and page together, both ways. Another plan, view, tab or part is a step that Back
 * takes back; a mere choice of corner is not, or Back would walk through every corner looked at.
 */
export class Travel {
  /** Set while an address is being gone to: the page passes through places of no account. */
  #arriving = true
  #plan = 0
  readonly bench: Workbench
  readonly view: View

  constructor(bench: Workbench, view: View) {
    this.bench = bench
    this.view = view
  }

  /** Open what the address names, or what was open last. */
  async start(): Promise<void> {
    const wanted = placeOf(location.hash)
    await this.bench.start()
    await this.#arrive(wanted, true)
  }

  /** Go where the address says: after Back, a link, or an address typed. */
  async goByAddress(): Promise<void> {
    const wanted = placeOf(location.hash)
    if (wanted.plan === undefined) return
    this.#arriving = true
    if (wanted.plan !== this.bench.open?.id) await this.bench.show(wanted.plan)
    await this.#arrive(wanted, wanted.page === undefined)
  }

  /** Show a place of the open plan. `recall` takes up what it does not say from the last visit. */
  async #arrive(wanted: Partial<Place>, recall: boolean): Promise<void> {
    const { bench, view } = this
    if (bench.open && (wanted.plan === undefined || wanted.plan === bench.open.id)) {
      if (wanted.page) view.turnTo(wanted.page)
      if (wanted.circuitTab) view.circuitTab = wanted.circuitTab
      if (wanted.carTab) view.carTab = wanted.carTab
      if (wanted.conditionsTab) view.conditionsTab = wanted.conditionsTab
      if (wanted.tradeTab) view.tradeTab = wanted.tradeTab
      if (wanted.raceTab) view.raceTab = wanted.raceTab
      if (wanted.logbookTab) view.logbookTab = wanted.logbookTab
      if (wanted.drillTab) view.drillTab = wanted.drillTab
      if (wanted.run !== undefined) view.run = wanted.run
      if (wanted.lap !== undefined) view.lap = wanted.lap
      if (wanted.axes) view.vary(wanted.axes)
      if (wanted.part) view.cornerPart = wanted.part
      const told = wanted.page === 'lap' || wanted.page === 'line'
      if (
        bench.result &&
        wanted.corner !== undefined &&
        wanted.corner < bench.result.corners.length
      )
        view.select(bench.result, wanted.corner)
      else if (bench.result && recall) view.takeUp(bench.result)
      else if (told && !recall) view.letGoOfCorner()
      if (wanted.page === 'lap') view.cornerOpen = wanted.part !== undefined && view.corner !== null
    }
    await tick()
    this.#plan = bench.open?.id ?? 0
    this.#arriving = false
    this.write(true)
  }

  /** Have the address say what is shown; in another plan the corner chosen last is taken up. */
  write(replace = false): void {
    const { bench, view } = this
    if (!bench.open || this.#arriving) return
    if (this.#plan !== bench.open.id && bench.result) view.takeUp(bench.result)
    this.#plan = bench.open.id
    const place = placeShown(bench, view)
    if (!place) return
    const address = addressOf(place)
    const before = location.hash
    if (address === before) return
    const still =
      replace || placeOf(before).page === undefined || onlyAnotherCorner(before, address)
    if (still) history.replaceState(null, '', address)
    else history.pushState(null, '', address)
  }
}
