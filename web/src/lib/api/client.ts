import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

type Schemas = components['schemas']
export type Plan = Schemas['PlanDocument']
export type OpenPlan = Schemas['OpenPlan']
export type Opening = Schemas['Opening']
export type Part = Schemas['Part']
export type Result = Schemas['ResultDocument']
export type Corner = Schemas['CornerResultPart']
export type Trace = Schemas['Trace']
export type Assumptions = Schemas['Assumptions']
export type Change = Omit<Schemas['Change'], 'hold_straights'> & { hold_straights?: boolean }
export type Choice = Schemas['Choice']
export type Comparison = Schemas['Comparison']
export type CornerComparison = Schemas['CornerComparison']
export type Conflict = Schemas['Conflict']
export type Revisions = Schemas['Revisions']
export type HistoryStep = Schemas['HistoryStep']
export type Listed = Schemas['Listed']
export type ListedRevision = Schemas['ListedRevision']
export type Imported = Schemas['Imported']
export type FirstLaps = Schemas['FirstLaps']
export type CornerCalls = Schemas['CornerCalls']
export type CornerMap = Schemas['CornerMap']
export type LapWorth = Schemas['LapWorth']
export type Racing = Schemas['Racing']
export type PlanBands = Schemas['PlanBands']
export type CornerBand = Schemas['CornerBand']
export type WorkingPart = Schemas['WorkingPart']
export type PlanEdit = Schemas['PlanEdit']
export type Uncertainty = Schemas['UncertaintyDocument']
export type CornerNote = Schemas['CornerNoteDocument']
export type Brief = Schemas['Brief']
export type FirstDrive = Schemas['FirstDrive']
export type FirstPlan = Schemas['FirstPlan']
export type ErrorBody = Schemas['ErrorBody']
export type Circuit = Schemas['CircuitDocument']
export type Segment = NonNullable<Circuit['segments']>[number]
export type CircuitEdit = Schemas['EditCircuitRequest']['edits'][number]
export type SurveyReport = Schemas['SurveyReport']
export type ClosureReport = Schemas['ClosureReport']
export type RadiusAnswer = Schemas['RadiusAnswer']
export type LineSettings = Schemas['LineDocument']
export type LineKind = NonNullable<LineSettings['kind']>
export type LineJob = Schemas['LineJob']
export type DrawnLine = Schemas['DrawnLine']
export type RoadDrawing = Schemas['RoadDrawing']
export type ImportPreview = Schemas['ImportPreview']
export type ImportOptions = Partial<Schemas['ImportOptions']>
export type ImportProgress = Schemas['ImportProgress']
export type CornerEdit = Schemas['CornerRequest']['edit']
export type Layout = Schemas['Layout']
export type DrawnEdge = Schemas['DrawnEdge']
export type SurveyedRoad = NonNullable<Schemas['SurveyReport']['road']>
export type Car = Schemas['CarDocument']
export type FigureRow = Schemas['FigureRow']
export type CarEdit = Schemas['EditCarRequest']['edit']
export type CarReport = Schemas['CarReport']
export type PlotData = Schemas['PlotData']
export type BrakeStudy = Schemas['BrakeStudy']
export type CarComparison = Schemas['CarComparison']
export type CarSide = Schemas['CarSide']
export type QuickCar = Schemas['QuickCar']
export type QuickBuilt = Schemas['QuickBuilt']
export type Stated = Schemas['StatedDocument']
export type Setup = Schemas['SetupDocument']
export type EdgeStretch = Schemas['EdgeDocument']
export type Axis = Schemas['Axis']
export type EventSheet = Schemas['Event']
export type OtherPlan = Schemas['OtherPlan']
export type WindLap = Schemas['WindLap']
export type WindStudy = Schemas['WindStudy']
export type PlanWeather = Schemas['PlanWeather']
export type KeptWeather = Schemas['KeptWeather']
export type WeatherRecord = Schemas['WeatherRecordDocument']
export type WeatherReading = Schemas['ReadingDocument']
export type WeatherFigure = Schemas['WeatherFigure']
export type WeatherPreview = Schemas['WeatherPreview']
export type ColumnChoice = Schemas['ColumnChoice']
export type StationLook = Schemas['StationLook']
export type Since = Schemas['Since']
export type Session = Schemas['Session']
export type SessionPoint = Schemas['SessionPoint']
export type Weathers = Schemas['Weathers']
export type ConditionsSheet = Schemas['ConditionsDocument']
export type ListedRun = Schemas['ListedRun']
export type OpenRun = Schemas['OpenRun']
export type LapAgainst = Schemas['LapAgainst']
export type SimulatedRun = Schemas['SimulatedRun']
export type Season = Schemas['Season']
export type EventOfSeason = Schemas['EventOfSeason']
export type RunEdit = Schemas['RunEdit']
export type RunChanged = Schemas['Changed']
export type SeenThere = Schemas['SeenDocument']
export type SeveralLaps = Schemas['SeveralLaps']
export type LapKind = Schemas['RunLapDocument']['kind']
export type LogPreview = Schemas['LogPreview']
export type RunPlace = Schemas['RunPlace']
export type LogColumns = LogPreview['columns']
export type CornerPast = Schemas['CornerHistory']
export type FitFound = Schemas['FitDocument']
export type BlameChoice = Schemas['BlameChoice']
export type KeptFit = Schemas['KeptFit']
export type TakenFigure = Schemas['Taken']
export type Debrief = Schemas['Debrief']
export type Setting = Schemas['Setting']
export type Race = Schemas['Race']
export type RacePlan = Schemas['PlanTold']
export type RaceRules = Schemas['RaceDocument']
export type Saving = Schemas['Saving']
export type Energy = Schemas['Energy']
export type EnergyStore = Schemas['EnergyDocument']
export type FlapZone = Schemas['FlapZoneDocument']
export type EnergyZone = Schemas['Zone']
export type Passing = Schemas['Passing']
export type TyreWork = Schemas['Work']
export type Lanes = Schemas['Lanes']
export type LapOfRace = Schemas['LapTold']
export type RaceRequest = Schemas['RaceRequest']
export type DrillStanding = Schemas['DrillStanding']
export type DrillQuestion = Schemas['DrillQuestion']
export type DrillAnswer = Schemas['DrillAnswerGiven']
export type DrillScored = Schemas['DrillScored']
export type DrillRoad = Schemas['DrillRoad']
export type DrillRun = Schemas['DrillRun']
export type DrillDeed = Schemas['RunBeat']['deed']
export type DrillRhythm = Schemas['Rhythm']
export type BeforeTheCar = Schemas['BeforeTheCar']
export type Unsure = Schemas['Unsure']
export type StudyJob = Schemas['StudyJob']
export type Sweep = Schemas['Sweep']
export type SweepPoint = Schemas['Point']
export type Grid = Schemas['Grid']
export type Ranking = Schemas['Ranking']
export type RankStep = Schemas['RankStep']
export type PartKind = 'car' | 'circuit' | 'conditions'
export type Kind = PartKind | 'plan'
export type LapWords = Schemas['LapWords']
export type CornerWords = Schemas['CornerWords']
export type Units = LapWords['units']

export const client = createClient<paths>({ baseUrl: location.origin })

/** The units that sentences are asked for in; told with every request. */
let spoken: Units = 'metric'
export function speakIn(units: Units): void {
  spoken = units
}
client.use({
  onRequest({ request }) {
    request.headers.set('neapfrost-units', spoken)
    return request
  },
})

/** What a request came back with: data, or the one shape of error, or neither without an answer. */
export interface Answer<T> {
  data?: T | undefined
  error?: ErrorBody | undefined
}

/** An answer from a request that may find nobody at the other end. */
export async function answer<T>(
  request: Promise<{ data?: T; error?: unknown }>,
): Promise<Answer<T>> {
  try {
    const { data, error } = await request
    return { data, error: error === undefined ? undefined : inShape(error) }
  } catch {
    return {}
  }
}

/** Whatever came back instead of data, in the one shape of error. */
function inShape(error: unknown): ErrorBody {
  if (typeof error === 'object' && error !== null && 'faults' in error) return error as ErrorBody
  const said = typeof error === 'string' ? error.slice(0, 80) : ''
  const message = `the application gave an unexpected answer${said && `: ${said}`}`
  return { error: message, faults: [{ path: '', message }], conflict: null }
}

/** The first fault of an error as a sentence that begins and ends like one. */
export function sentence(error: ErrorBody | undefined): string {
  const text = error?.faults[0]?.message
  if (text === undefined) return 'The application did not answer; is it still running?'
  return text.charAt(0).toUpperCase() + text.slice(1) + (/[?.]$/.test(text) ? '' : '.')
}

/** Every fault of an error with its field, for files, where one does not see the field. */
export function sentences(error: ErrorBody | undefined): string[] {
  const faults = error?.faults ?? []
  if (faults.length === 0) return [sentence(error)]
  return faults.map(({ path, message }) => (path ? `${path}: ${message}` : message))
}

/** The first fault of a file with its place, or a sentence where it has none. */
export function fileFault(error: ErrorBody | undefined): string {
  return error?.faults[0]?.path ? (sentences(error)[0] ?? '') : sentence(error)
}

/** Send a file as it is, so that the application can name line and column in it. */
export function importText(text: string): Promise<Answer<Imported>> {
  return answer(
    client.POST('/api/plans/import', { body: {}, bodySerializer: () => text }) as Promise<{
      data?: Imported
      error?: unknown
    }>,
  )
}

/** Send a logger's file as it is, to be looked at; `watch` is the name its progress is told under. */
export function sendLog(planId: number, file: File, watch: string): Promise<Answer<LogPreview>> {
  return answer(
    client.POST('/api/plans/{plan_id}/readings', {
      params: { path: { plan_id: planId }, query: { name: file.name.slice(0, 200), watch } },
      body: file as unknown as string,
      bodySerializer: (body) => body,
      headers: { 'content-type': 'application/octet-stream' },
    }),
  )
}
