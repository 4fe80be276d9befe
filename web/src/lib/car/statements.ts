import type { QuickBuilt, Stated } from '../api/client'
import { plain } from '../parts/format'
import { roundSpeeds, type Units } from '../parts/units'

const G = 9.80665
const QUARTER_MILE_M = 402.336

/** One line of what a person may know: how it is said, and what that is in SI units. */
export interface Statement {
  id: string
  quantity: Stated['quantity']
  label: (units: Units) => string
  unit: (units: Units) => string
  read: (value: number, units: Units) => number
  show: (value: number, units: Units) => number
  decimals: number
  /** The speed [m/s] or distance [m] it belongs to: fixed, or typed with a usual one. */
  at?: { fixed?: (units: Units) => number; usual: (units: Units) => string }
}

const same = (value: number): number => value
const slow = (units: Units): number => roundSpeeds(units.system)[0] ?? 0
const hundred = (units: Units): number => units.read(slow(units), 'speed')
const speedWord = (units: Units): string => `${slow(units)} ${units.speedUnit}`
const fast = (units: Units): string => `${roundSpeeds(units.system)[1] ?? 0}`

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
    label: (units) => `0 to ${speedWord(units)}`,
    unit: () => 's',
    read: same,
    show: same,
    decimals: 2,
    at: { fixed: hundred, usual: () => '' },
  },
  {
    id: 'quarter',
    quantity: 'time_to_distance_s',
    label: () => 'Standing quarter mile',
    unit: () => 's',
    read: same,
    show: same,
    decimals: 2,
    at: { fixed: () => QUARTER_MILE_M, usual: () => '' },
  },
  {
    id: 'kilometre',
    quantity: 'time_to_distance_s',
    label: () => 'Standing kilometre',
    unit: () => 's',
    read: same,
    show: same,
    decimals: 2,
    at: { fixed: () => 1000, usual: () => '' },
  },
  {
    id: 'braking',
    quantity: 'braking_distance_m',
    label: (units) => `${speedWord(units)} to 0`,
    unit: (units) => units.lengthUnit,
    read: (v, units) => units.read(v, 'length'),
    show: (v, units) => units.length(v),
    decimals: 1,
    at: { fixed: hundred, usual: () => '' },
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
    at: { usual: fast },
  },
  {
    id: 'downforce',
    quantity: 'downforce_n',
    label: () => 'Downforce',
    unit: (units) => units.unitOf('mass'),
    read: (v, units) => units.read(v, 'mass') * G,
    show: (n, units) => units.show(n / G, 'mass'),
    decimals: 0,
    at: { usual: fast },
  },
]

export function shownFigure(one: Statement, value: number, units: Units): string {
  return plain(one.show(value, units), one.decimals)
}

/** What a statement that the others speak against says, and what they say. */
export function mentioned(one: QuickBuilt['contradictions'][number], units: Units): string {
  const statement =
    STATEMENTS.find(
      (known) =>
        known.quantity === one.quantity &&
        (!known.at?.fixed || one.at === null || Math.abs(known.at.fixed(units) - one.at) < 1),
    ) ?? STATEMENTS[0]
  if (!statement) return ''
  const unit = statement.unit(units)
  const said = `${statement.label(units)} ${shownFigure(statement, one.stated, units)} ${unit}`
  if (one.others_say === null || one.off_pct === null)
    return `${said}: with the other figures the car never reaches it.`
  const off = plain(Math.abs(one.off_pct), 0)
  return `${said}: the other figures give ${shownFigure(statement, one.others_say, units)} ${unit}, ${off} % ${one.off_pct < 0 ? 'less' : 'more'}.`
}
