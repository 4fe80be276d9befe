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
