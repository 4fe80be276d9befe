import type { QuickBuilt, Stated } from '../api/client'
import { plain } from '../parts/format'
import { roundSpeeds, type Units } from '../parts/units'

const G = 9.80665
const QUARTER_MILE_M = 402.336

/** One line of what a person may know: how it is said, and what that is in SI units. */
export interface Statement {
  id: string
  quantity: Stated['quantity']
  label: (units: Units, at: number | null) => string
  unit: (units: Units) => string
  read: (value: number, units: Units) => number
  show: (value: number, units: Units) => number
  decimals: number
  /**
   * The speed [m/s] or distance [m] it belongs to: a round speed that the label says, one that is
   * asked for, or a distance that never changes.
   */
  at?: { usual: (units: Units) => number; asked?: boolean; distance?: boolean }
}

const same = (value: number): number => value
const slow = (units: Units): number => units.read(roundSpeeds(units.system)[0] ?? 0, 'speed')
/** A speed in the label: the one it was stated at, whatever the units are now. */
const speedWord = (units: Units, at: number | null): string =>
  `${plain(units.speed(at ?? slow(units)), 0)} ${units.speedUnit}`
const fast = (units: Units): number => units.read(roundSpeeds(units.system)[1] ?? 0, 'speed')

export const STATEMENTS: Statement[] = [
  {
    id: 'mass',
    quantity: 'mass_kg',
    label: () => 'Mass, without driver',
    unit: (units) => units.unitOf('mass'),
    read: (v, units) => units.read(v, 'mass'),
    show: (v, units) => units.show(v, 'mass'),
    decimals: 0,
  },
  {
    id: 'power',
    quantity: 'peak_power_w',
    label: () => 'Peak power',
    unit: (units) => units.unitOf('power'),
    read: (v, units) => 1000 * units.read(v, 'power'),
    show: (w, units) => units.show(w / 1000, 'power'),
    decimals: 0,
  },
  {
    id: 'torque',
    quantity: 'peak_torque_nm',
    label: () => 'Peak torque',
    unit: (units) => units.unitOf('torque'),
    read: (v, units) => units.read(v, 'torque'),
    show: (v, units) => units.show(v, 'torque'),
    decimals: 0,
  },
  {
    id: 'top',
    quantity: 'top_speed_ms',
    label: () => 'Top speed',
    unit: (units) => units.speedUnit,
    read: (v, units) => units.read(v, 'speed'),
    show: (v, units) => units.speed(v),
    decimals: 0,
  },
  {
    id: 'topgear',
    quantity: 'top_gear_ms',
    label: () => 'Top gear’s speed at the limit',
    unit: (units) => units.speedUnit,
    read: (v, units) => units.read(v, 'speed'),
    show: (v, units) => units.speed(v),
    decimals: 0,
  },
  {
    id: 'sprint',
    quantity: 'time_to_speed_s',
    label: (units, at) => `0 to ${speedWord(units, at)}`,
    unit: () => 's',
    read: same,
    show: same,
    decimals: 2,
    at: { usual: slow },
  },
  {
    id: 'quarter',
    quantity: 'time_to_distance_s',
    label: () => 'Standing quarter mile',
    unit: () => 's',
    read: same,
    show: same,
    decimals: 2,
    at: { usual: () => QUARTER_MILE_M, distance: true },
  },
  {
    id: 'kilometre',
    quantity: 'time_to_distance_s',
    label: () => 'Standing kilometre',
    unit: () => 's',
    read: same,
    show: same,
    decimals: 2,
    at: { usual: () => 1000, distance: true },
  },
  {
    id: 'braking',
    quantity: 'braking_distance_m',
    label: (units, at) => `${speedWord(units, at)} to 0`,
    unit: (units) => units.lengthUnit,
    read: (v, units) => units.read(v, 'length'),
    show: (v, units) => units.length(v),
    decimals: 1,
    at: { usual: slow },
  },
  {
    id: 'slow',
    quantity: 'lateral_slow_g',
    label: () => 'Lateral, in a slow corner',
    unit: () => 'g',
    read: same,
    show: same,
    decimals: 2,
  },
  {
    id: 'fast',
    quantity: 'lateral_fast_g',
    label: () => 'Lateral, fast',
    unit: () => 'g',
    read: same,
    show: same,
    decimals: 2,
    at: { usual: fast, asked: true },
  },
  {
    id: 'downforce',
    quantity: 'downforce_n',
    label: () => 'Downforce',
    unit: (units) => units.unitOf('mass'),
    read: (v, units) => units.read(v, 'mass') * G,
    show: (n, units) => units.show(n / G, 'mass'),
    decimals: 0,
    at: { usual: fast, asked: true },
  },
]

export function shownFigure(one: Statement, value: number, units: Units): string {
  return plain(one.show(value, units), one.decimals)
}

/** The line of the form that something stated belongs to. */
export function statementOf(
  stated: { quantity: Stated['quantity']; at?: number | null },
  units: Units,
): Statement | undefined {
  return STATEMENTS.find(
    ({ quantity, at }) =>
      quantity === stated.quantity &&
      (!at?.distance || Math.abs(at.usual(units) - (stated.at ?? 0)) < 1),
  )
}

/** What a statement that the others speak against says, and what they say. */
export function mentioned(one: QuickBuilt['contradictions'][number], units: Units): string {
  const statement = statementOf(one, units) ?? STATEMENTS[0]
  if (!statement) return ''
  const unit = statement.unit(units)
  const said = `${statement.label(units, one.at)} ${shownFigure(statement, one.stated, units)} ${unit}`
  if (one.others_say === null || one.off_pct === null)
    return `${said}: with the other figures the car never reaches it.`
  const off = plain(Math.abs(one.off_pct), 0)
  return `${said}: the other figures give ${shownFigure(statement, one.others_say, units)} ${unit}, ${off} % ${one.off_pct < 0 ? 'less' : 'more'}.`
}
