import { speakIn, type Kind, type Result } from '../api/client'
import {
  presetOf,
  PRESETS,
  recalledSystem,
  unitsFor,
  type System,
  type Units,
} from '../parts/units'
import { recallText, remember } from './memory'
import {
  PAGES,
  type CarTab,
  type CircuitTab,
  type ConditionsTab,
  type CornerPart,
  type DrillTab,
  type LogbookTab,
  type PageName,
  type RaceTab,
  type TradeTab,
} from './places'

export type SheetName =
  | Kind
  | 'compare'
  | 'history'
  | 'units'
  | 'keys'
  | 'map'
  | 'words'
  | 'first'
  | 'bands'
  | 'closing'
  | 'radius'
  | 'import'

const DARK = matchMedia('(prefers-color-scheme: dark)')
const theSystems = (): 'night' | 'day' => (DARK.matches ? 'night' : 'day')

/** Where the reader is and how the page speaks: cursor, corner, sheet, day or night, units. */
export class View {
  cursorM = $state<number | null>(null)
  corner = $state<number | null>(null)
  night = $state((recallText('theme') ?? theSystems()) === 'night')
  system = $state<System>(recalledSystem())
  /** Whether a new radius leaves the straights at their lengths. */
  holdStraights = $state(recallText('straights') === 'held')
  sheet = $state<SheetName | null>(null)
  /** A file of points dropped on the page, for the sheet that takes it in. */
  droppedFile = $state.raw<File | null>(null)
  /** Logger's files dropped on the page, for the logbook. */
  droppedLogs = $state.raw<File[]>([])
  /** Whether the line page begins with a search for the fastest line. */
  lineWanted = $state(false)
  page = $state<PageName>(PAGES.find((page) => page === recallText('page')) ?? 'lap')
  circuitTab = $state<CircuitTab>('sheet')
  carTab = $state<CarTab>('does')
  conditionsTab = $state<ConditionsTab>('session')
  tradeTab = $state<TradeTab>('one')
  raceTab = $state<RaceTab>('sheet')
  logbookTab = $state<LogbookTab>('run')
  drillTab = $state<DrillTab>('recall')
  /** Keys that the part that is shown takes for itself, before the page does; true where it did. */
  ownKeys: ((event: KeyboardEvent) => boolean) | null = null
  /** The run of the logbook that is looked at, and the lap of it. */
  run = $state<number | null>(null)
  lap = $state<number | null>(null)
  /** What is varied alone, and what two are varied together; '' until it is chosen. */
  axis = $state('')
  axisPair = $state<[string, string]>(['', ''])
  /** Whether the chosen corner's sheet stands in the place of the table, and at which part. */
  cornerOpen = $state(false)
  cornerPart = $state<CornerPart>('do')
  /** The figure whose working is open. */
  workingOf = $state('min_speed_ms')
  /** Whether the 10-90 bands are shown. */
  bands = $state(recallText('bands') !== 'off')
  /** Segment of the circuit's sheet that the tools above it work on. */
  segment = $state(0)
  units: Units = $derived(unitsFor(this.system))

  toggleTheme(): void {
    this.night = !this.night
    remember('theme', this.night ? 'night' : 'day')
    this.applyTheme()
  }

  constructor() {
    speakIn(this.system)
    // The system's choice holds until one is made here.
    DARK.addEventListener('change', () => {
      if (recallText('theme') !== null) return
      this.night = theSystems() === 'night'
      this.applyTheme()
    })
  }

  applyTheme(): void {
    document.documentElement.dataset.theme = this.night ? 'neapfrost-night' : 'neapfrost-day'
  }

  speak(system: System): void {
    this.system = system
    speakIn(system)
    remember('units', system)
  }

  /** The axes that the address names. */
  get axesShown(): string[] {
    if (this.tradeTab === 'one') return this.axis ? [this.axis] : []
    return this.tradeTab === 'two' ? this.axisPair.filter((name) => name !== '') : []
  }

  /** Vary what an address names. */
  vary(axes: string[]): void {
    if (this.tradeTab === 'one') this.axis = axes[0] ?? ''
    else if (this.tradeTab === 'two') this.axisPair = [axes[0] ?? '', axes[1] ?? '']
  }

  turnTo(page: PageName): void {
    this.page = page
    remember('page', page)
  }

  /** A circuit has just come from a file: its line, which is looked for at once, or the lap. */
  turnToNewCircuit(describesRoad: boolean): void {
    this.lineWanted = describesRoad
    this.turnTo(describesRoad ? 'line' : 'lap')
  }

  nextPage(): void {
    this.turnTo(PAGES[(PAGES.indexOf(this.page) + 1) % PAGES.length] ?? 'lap')
  }

  /** The next of the usual units. */
  nextUnits(): void {
    this.speak(PRESETS[(PRESETS.indexOf(presetOf(this.system)) + 1) % PRESETS.length] ?? 'metric')
  }

  hold(straights: boolean): void {
    this.holdStraights = straights
    remember('straights', straights ? 'held' : 'give')
  }

  /** Select a corner by its number in the lap, and put the cursor at its minimum speed. */
  select(result: Result, index: number): void {
    const count = result.corners.length
    if (count === 0) return
    this.corner = ((index % count) + count) % count
    this.cursorM = result.corners[this.corner]?.min_speed_at_m ?? null
    remember('corner', String(this.corner))
  }

  /** Open the sheet of the chosen corner, or of the first one. */
  openCorner(result: Result, part?: CornerPart): void {
    if (this.corner === null) this.select(result, 0)
    if (this.corner === null) return
    if (part) this.cornerPart = part
    this.page = 'lap'
    this.cornerOpen = true
  }

  /** Open the arithmetic of one of the chosen corner's figures. */
  openWorking(figure: string): void {
    this.workingOf = figure
    this.cornerPart = 'working'
    this.cornerOpen = true
  }

  showBands(shown: boolean): void {
    this.bands = shown
    remember('bands', shown ? 'on' : 'off')
  }

  letGo(): void {
    if (this.cornerOpen) {
      this.cornerOpen = false
      return
    }
    this.letGoOfCorner()
  }

  letGoOfCorner(): void {
    this.cornerOpen = false
    this.corner = null
    this.cursorM = null
    remember('corner', '')
  }

  /** The corner that was selected when the page was left. */
  takeUp(result: Result): void {
    const kept = Number.parseInt(recallText('corner') ?? '', 10)
    if (kept >= 0 && kept < result.corners.length) this.select(result, kept)
    else this.letGo()
  }

  /** Move the cursor along the lap; at the line it goes round. */
  move(result: Result, byM: number): void {
    const at = (this.cursorM ?? 0) + byM
    this.cursorM = ((at % result.length_m) + result.length_m) % result.length_m
  }
}
