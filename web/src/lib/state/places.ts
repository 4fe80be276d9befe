/**
 * The places of the page: its views, their tabs, and the address of each.
 *
 * `#/plan/3/lap` is a view, `#/plan/3/lap/6` a corner in it, `#/plan/3/lap/6/calls` a part of that
 * corner's sheet, `#/plan/3/car/setups` a tab, `#/plan/3/trade/two/grip/fuel_kg` what is varied in
 * one. A new view is one entry of STAGES.
 */

/** The views in the order of the work: what is known, what follows, what the driver takes along,
 * and what came of it. */
export const STAGES = [
  [
    { page: 'circuit', label: 'Circuit' },
    { page: 'line', label: 'Line' },
    { page: 'car', label: 'Car' },
    { page: 'conditions', label: 'Conditions' },
  ],
  [
    { page: 'lap', label: 'Lap' },
    { page: 'trade', label: 'Trade-offs' },
    { page: 'race', label: 'Race' },
  ],
  [
    { page: 'brief', label: 'Brief' },
    { page: 'drill', label: 'Drill' },
  ],
  [{ page: 'logbook', label: 'Logbook' }],
] as const
export type PageName = (typeof STAGES)[number][number]['page']
export const PAGES: PageName[] = STAGES.flatMap((stage) => stage.map((one) => one.page))

export const CIRCUIT_TABS = [
  { tab: 'sheet', label: 'Straights and corners' },
  { tab: 'uncertainties', label: 'Uncertainties' },
  { tab: 'roadside', label: 'References' },
  { tab: 'heights', label: 'Heights' },
  { tab: 'edges', label: 'Edges' },
  { tab: 'notes', label: 'Notes' },
  { tab: 'whole', label: 'Circuit settings' },
] as const
export type CircuitTab = (typeof CIRCUIT_TABS)[number]['tab']

export const CAR_TABS = [
  { tab: 'does', label: 'Performance' },
  { tab: 'sheet', label: 'Full sheet' },
  { tab: 'setups', label: 'Setups' },
  { tab: 'compare', label: 'Compare' },
  { tab: 'brakes', label: 'Brakes' },
  { tab: 'build', label: 'Build from known figures' },
] as const
export type CarTab = (typeof CAR_TABS)[number]['tab']

export const TRADE_TABS = [
  { tab: 'one', label: 'Sweep' },
  { tab: 'two', label: 'Map' },
  { tab: 'worth', label: 'Sensitivities' },
  { tab: 'has', label: 'Available options' },
  { tab: 'gears', label: 'Gears' },
  { tab: 'event', label: 'The event' },
] as const
export type TradeTab = (typeof TRADE_TABS)[number]['tab']

export const CONDITIONS_TABS = [
  { tab: 'session', label: 'Session timeline' },
  { tab: 'weathers', label: 'Forecasts compared' },
  { tab: 'wind', label: 'Wind at each corner' },
  { tab: 'record', label: 'Readings and track state' },
] as const
export type ConditionsTab = (typeof CONDITIONS_TABS)[number]['tab']

export const RACE_TABS = [
  { tab: 'sheet', label: 'The race' },
  { tab: 'stops', label: 'Stops' },
  { tab: 'fuel', label: 'Fuel' },
  { tab: 'water', label: 'Tyre crossover' },
  { tab: 'energy', label: 'Energy' },
  { tab: 'passing', label: 'Overtaking' },
  { tab: 'tyres', label: 'Tyres' },
  { tab: 'lanes', label: 'Lanes' },
] as const
export type RaceTab = (typeof RACE_TABS)[number]['tab']

export const LOGBOOK_TABS = [
  { tab: 'run', label: 'The run' },
  { tab: 'together', label: 'Laps compared' },
  { tab: 'learn', label: 'Model fit' },
  { tab: 'past', label: 'Corner history' },
  { tab: 'debrief', label: 'Debrief' },
] as const
export type LogbookTab = (typeof LOGBOOK_TABS)[number]['tab']

export const DRILL_TABS = [
  { tab: 'recall', label: 'Recall' },
  { tab: 'run', label: 'Real-time lap' },
  { tab: 'before', label: 'Before you drive' },
  { tab: 'sits', label: 'How well you know it' },
] as const
export type DrillTab = (typeof DRILL_TABS)[number]['tab']

export const CORNER_PARTS = [
  { tab: 'do', label: 'What to do' },
  { tab: 'calls', label: 'Calls' },
  { tab: 'worth', label: 'Worth and links' },
  { tab: 'race', label: 'In a race' },
  { tab: 'first', label: 'First laps' },
  { tab: 'working', label: 'Working' },
  { tab: 'notes', label: 'Notes' },
] as const
export type CornerPart = (typeof CORNER_PARTS)[number]['tab']

/** Where the reader is. `corner` counts from 0 and stands only in views that show one. */
export interface Place {
  plan: number
  page: PageName
  circuitTab?: CircuitTab
  carTab?: CarTab
  conditionsTab?: ConditionsTab
  tradeTab?: TradeTab
  raceTab?: RaceTab
  /** What is varied, by its names in the API. */
  axes?: string[]
  drillTab?: DrillTab
  logbookTab?: LogbookTab
  /** Which run of the logbook, and which lap of it. */
  run?: number
  lap?: number
  corner?: number
  part?: CornerPart
}

/** Views in whose address the chosen corner stands. */
const WITH_CORNER: PageName[] = ['line', 'lap']

/** The address of a place, from its `#` on. */
export function addressOf(place: Place): string {
  const steps: (string | number)[] = ['plan', place.plan, place.page]
  if (place.page === 'circuit' && place.circuitTab) steps.push(place.circuitTab)
  if (place.page === 'car' && place.carTab) steps.push(place.carTab)
  if (place.page === 'conditions' && place.conditionsTab) steps.push(place.conditionsTab)
  if (place.page === 'trade' && place.tradeTab) {
    steps.push(place.tradeTab, ...(place.axes ?? []))
  }
  if (place.page === 'race' && place.raceTab) steps.push(place.raceTab)
  if (place.page === 'drill' && place.drillTab) steps.push(place.drillTab)
  if (place.page === 'logbook') {
    // The run itself needs no word: its number stands at once.
    if (place.logbookTab && place.logbookTab !== 'run') steps.push(place.logbookTab)
    if (place.run !== undefined) {
      steps.push(place.run, ...(place.lap === undefined ? [] : [place.lap]))
    }
  }
  if (WITH_CORNER.includes(place.page) && place.corner !== undefined) {
    steps.push(place.corner + 1)
    if (place.page === 'lap' && place.part) steps.push(place.part)
  }
  return `#/${steps.join('/')}`
}

function named<T extends string>(tabs: readonly { tab: T }[], word = ''): T | undefined {
  return tabs.find((one) => one.tab === word)?.tab
}

/** What an address says; what it says in part is taken in part, and what it misspells is left. */
export function placeOf(address: string): Partial<Place> {
  const [, plan, view, ...rest] = /^#\/?plan[/=](\d+)(?:\/([a-z]+))?(.*)$/.exec(address) ?? []
  if (plan === undefined) return {}
  const place: Partial<Place> = { plan: Number(plan) }
  const page = PAGES.find((one) => one === view)
  if (page === undefined) return place
  place.page = page
  const steps = (rest[0] ?? '').split('/').filter((step) => step !== '')
  if (page === 'circuit') place.circuitTab = named(CIRCUIT_TABS, steps[0])
  else if (page === 'car') place.carTab = named(CAR_TABS, steps[0])
  else if (page === 'conditions') place.conditionsTab = named(CONDITIONS_TABS, steps[0])
  else if (page === 'drill') place.drillTab = named(DRILL_TABS, steps[0])
  else if (page === 'race') place.raceTab = named(RACE_TABS, steps[0])
  else if (page === 'trade') {
    place.tradeTab = named(TRADE_TABS, steps[0])
    const axes = steps.slice(1).filter((step) => /^[a-z0-9_]+$/.test(step))
    if (axes.length > 0) place.axes = axes
  } else if (page === 'logbook') {
    place.logbookTab = named(LOGBOOK_TABS, steps[0]) ?? 'run'
    const [run, lap] = steps.filter((step) => /^\d+$/.test(step)).map(Number)
    if (run !== undefined) place.run = run
    if (lap !== undefined) place.lap = lap
  } else if (WITH_CORNER.includes(page) && /^[1-9]\d*$/.test(steps[0] ?? '')) {
    place.corner = Number(steps[0]) - 1
    if (page === 'lap') place.part = named(CORNER_PARTS, steps[1])
  }
  return place
}
