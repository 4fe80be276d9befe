import type { FigureRow } from '../api/client'
import { recallText } from '../state/memory'

/** How speeds, lengths and temperatures are said. Inside everything stays in SI units. */

export type System = 'metric' | 'feet' | 'yards'
export const SYSTEMS: System[] = ['metric', 'feet', 'yards']
export type Quantity = FigureRow['quantity']

const MPH = 1609.344 / 3600
const METRES: Record<System, number> = { metric: 1, feet: 0.3048, yards: 0.9144 }

export interface Units {
  system: System
  fahrenheit: boolean
  speedUnit: string
  lengthUnit: string
  temperatureUnit: string
  /** From m/s to km/h or mph. */
  speed: (ms: number) => number
  /** From m to m, ft or yd. */
  length: (m: number) => number
  /** From SI to what the page shows of a quantity, and back. */
  show: (value: number, quantity: Quantity) => number
  read: (shown: number, quantity: Quantity) => number
  /** A difference of a quantity: without the zero point of a temperature. */
  unitOf: (quantity: Quantity) => string
}

export function unitsFor(system: System, fahrenheit: boolean): Units {
  const perSpeed = system === 'metric' ? 1 / 3.6 : MPH
  const perWind = system === 'metric' ? 1 : MPH
  const perLength = METRES[system]
  const units: Units = {
    system,
    fahrenheit,
    speedUnit: system === 'metric' ? 'km/h' : 'mph',
    lengthUnit: { metric: 'm', feet: 'ft', yards: 'yd' }[system],
    temperatureUnit: fahrenheit ? '°F' : '°C',
    speed: (ms) => ms / perSpeed,
    length: (m) => m / perLength,
    show: (value, quantity) => {
      if (quantity === 'speed') return value / perSpeed
      if (quantity === 'wind') return value / perWind
      if (quantity === 'length') return value / perLength
      if (quantity === 'temperature' && fahrenheit) return value * 1.8 + 32
      if (quantity === 'percent') return 100 * value
      return value
    },
    read: (shown, quantity) => {
      if (quantity === 'speed') return shown * perSpeed
      if (quantity === 'wind') return shown * perWind
      if (quantity === 'length') return shown * perLength
      if (quantity === 'temperature' && fahrenheit) return (shown - 32) / 1.8
      if (quantity === 'percent') return shown / 100
      return shown
    },
    unitOf: (quantity) => {
      if (quantity === 'speed') return units.speedUnit
      if (quantity === 'wind') return system === 'metric' ? 'm/s' : 'mph'
      if (quantity === 'length') return units.lengthUnit
      if (quantity === 'temperature') return units.temperatureUnit
      return ''
    },
  }
  return units
}

/** The units that this browser last spoke. */
export function recalledSystem(): System {
  return SYSTEMS.find((name) => name === recallText('units')) ?? 'metric'
}
