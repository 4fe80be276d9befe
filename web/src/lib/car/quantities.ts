import type { PlotData } from '../api/client'
import type { Units } from '../parts/units'

type Quantity = PlotData['x_quantity']

/** A plot's value in the unit it is shown in: speeds and lengths as the page speaks, kN for N. */
export function shownValue(units: Units, quantity: Quantity, value: number): number {
  if (quantity === 'speed') return units.speed(value)
  if (quantity === 'length') return units.length(value)
  if (quantity === 'force') return value / 1000
  if (quantity === 'rpm') return value / 1000
  return value
}

export function shownUnit(units: Units, quantity: Quantity): string {
  return {
    speed: units.speedUnit,
    length: units.lengthUnit,
    time: 's',
    rpm: '1000 rpm',
    force: 'kN',
    g: 'g',
    share: '',
  }[quantity]
}

/** Round values between two ends, about so many of them. */
export function niceTicks(low: number, high: number, about = 5): number[] {
  if (!(high > low)) return [low]
  const raw = (high - low) / about
  const power = 10 ** Math.floor(Math.log10(raw))
  const step = [1, 2, 2.5, 5, 10].map((one) => one * power).find((one) => one >= raw) ?? raw
  const first = Math.ceil(low / step - 1e-9)
  const last = Math.floor(high / step + 1e-9)
  return Array.from({ length: last - first + 1 }, (_, k) => Number(((first + k) * step).toFixed(9)))
}
