import table from '../api/units.json'
import type { FigureRow } from '../api/client'
import { recallText, remember } from '../state/memory'

/**
 * How figures are shown. Inside everything stays in the units of documents. The table of units is
 * the core's; a setting is a preset and the single choices that depart from it: "yards.kg".
 */

export type System = string
export type ChosenKind = keyof typeof table.kinds
type FollowingKind = keyof typeof table.follows
type Kind = ChosenKind | FollowingKind
type Preset = keyof typeof table.presets
export type Quantity = FigureRow['quantity']

interface Unit {
  key: string
  symbol: string
  size: number
  zero: number
}

export const PRESETS = Object.keys(table.presets) as Preset[]
export const KINDS = Object.keys(table.kinds) as ChosenKind[]
export const presetLabel = (preset: Preset): string => table.presets[preset].label
export const kindLabel = (kind: ChosenKind): string => table.kinds[kind].label
export const unitsOf = (kind: ChosenKind): Unit[] => table.kinds[kind].units
/** Round speeds that vehicles are timed by, slow and fast, in the unit that speeds are shown in. */
export const roundSpeeds = (system: System): number[] =>
  (table.roundSpeeds as Record<string, number[]>)[keyOf(system, 'speed')] ?? []

export interface Units {
  system: System
  speedUnit: string
  lengthUnit: string
  temperatureUnit: string
  /** From m/s to km/h or mph. */
  speed: (ms: number) => number
  /** From m to m, ft or yd. */
  length: (m: number) => number
  /** From a document's unit to what the page shows of a quantity, and back. */
  show: (value: number, quantity: Quantity) => number
  read: (shown: number, quantity: Quantity) => number
  /** A difference of a quantity: without the zero point of a temperature. */
  showDifference: (value: number, quantity: Quantity) => number
  /** The unit of a quantity; '' for what everybody shows alike. */
  unitOf: (quantity: Quantity) => string
  /** The unit that a figure of a row is shown in. */
  unitFor: (row: { quantity: Quantity; unit: string }) => string
  /** Decimals and steps of a row in the unit it is shown in: a power of ten of its own. */
  fit: (row: Steps & { quantity: Quantity }) => Steps
}

interface Steps {
  decimals: number
  step: number
  fine: number
}

/** The preset of a setting. */
export function presetOf(system: System): Preset {
  const [name] = system.split('.')
  return PRESETS.find((preset) => preset === name) ?? 'metric'
}

/** The key of the unit that a setting shows a kind in. */
export function keyOf(system: System, kind: ChosenKind): string {
  const single = system.split('.').slice(1)
  const chosen = unitsOf(kind).find((unit) => single.includes(unit.key))
  return chosen?.key ?? table.presets[presetOf(system)].keys[kind]
}

/** A setting with one kind shown in another unit. */
export function withUnit(system: System, kind: ChosenKind, key: string): System {
  const preset = presetOf(system)
  const usual: Record<ChosenKind, string> = table.presets[preset].keys
  const keys = KINDS.map((one) => [one, one === kind ? key : keyOf(system, one)] as const)
  return [
    preset,
    ...keys.filter(([one, wanted]) => usual[one] !== wanted).map((one) => one[1]),
  ].join('.')
}

function unitIn(system: System, kind: Kind): Unit {
  if (kind in table.follows) {
    const { of, units } = table.follows[kind as FollowingKind]
    const found = (units as Record<string, Unit>)[keyOf(system, of as ChosenKind)]
    if (found) return found
  }
  const key = keyOf(system, kind as ChosenKind)
  const found = unitsOf(kind as ChosenKind).find((unit) => unit.key === key)
  if (!found) throw new Error(`no unit "${key}" of ${kind}`)
  return found
}

export function unitsFor(system: System): Units {
  const kinds = [...KINDS, ...(Object.keys(table.follows) as FollowingKind[])]
  const found = new Map<string, Unit>(kinds.map((kind) => [kind, unitIn(system, kind)]))
  const percent: Unit = { key: '%', symbol: '', size: 0.01, zero: 0 }
  const of = (quantity: Quantity): Unit | undefined =>
    quantity === 'percent' ? percent : found.get(quantity)
  const units: Units = {
    system,
    speedUnit: unitIn(system, 'speed').symbol,
    lengthUnit: unitIn(system, 'length').symbol,
    temperatureUnit: unitIn(system, 'temperature').symbol,
    speed: (ms) => units.show(ms, 'speed'),
    length: (m) => units.show(m, 'length'),
    show: (value, quantity) => {
      const unit = of(quantity)
      return unit ? value / unit.size + unit.zero : value
    },
    read: (shown, quantity) => {
      const unit = of(quantity)
      return unit ? (shown - unit.zero) * unit.size : shown
    },
    showDifference: (value, quantity) => value / (of(quantity)?.size ?? 1),
    unitOf: (quantity) => of(quantity)?.symbol ?? '',
    unitFor: (row) => units.unitOf(row.quantity) || row.unit,
    fit: (row) => {
      const unit = row.quantity === 'percent' ? undefined : of(row.quantity)
      const tens = Math.trunc(Math.log10(unit?.size ?? 1))
      const decimals = Math.max(0, row.decimals + tens)
      return { decimals, step: row.step / 10 ** tens, fine: row.fine / 10 ** tens }
    },
  }
  return units
}

/** The units that this browser last showed. A temperature was once chosen beside the rest. */
export function recalledSystem(): System {
  const kept = recallText('units') ?? ''
  const system = PRESETS.some((preset) => preset === presetOf(kept) && kept.startsWith(preset))
    ? kept
    : 'metric'
  const temperature = recallText('temperature')
  if (!temperature) return system
  const moved = withUnit(system, 'temperature', temperature === 'fahrenheit' ? 'f' : 'c')
  remember('temperature', '')
  remember('units', moved)
  return moved
}
