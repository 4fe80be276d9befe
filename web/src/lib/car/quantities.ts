import type { PlotData } from '../api/client'
import type { Units } from '../parts/units'

type Quantity = PlotData['x_quantity']

/** A plot's value in the unit it is shown in: speeds, lengths and forces as the page speaks. */
export function shownValue(units: Units, quantity: Quantity, value: number): number {
  if (quantity === 'rpm') return value / 1000
  return quantity === 'speed' || quantity === 'length' || quantity === 'force'
    ? units.show(value, quantity)
    : value
}

export function shownUnit(units: Units, quantity: Quantity): string {
  return {
    speed: units.speedUnit,
    length: units.lengthUnit,
    time: 's',
    rpm: '1000 rpm',
    force: units.unitOf('force'),
    g: 'g',
    share: '',
  }[quantity]
}
