import type { FirstDrive, FirstPlan } from '../api/client'
import { typedNumber } from '../parts/format'
import type { Quantity } from '../parts/units'
import type { View } from '../state/view.svelte'

export type Turn = 'straight' | 'left' | 'right'

/** A part of the circuit as typed: a straight has a length, a corner radius and angle. */
export interface Row {
  turn: Turn
  name: string
  length: string
  radius: string
  angle: string
}

/** What is typed in the first steps, as it stands in the fields. */
export class FirstEntry {
  car = $state({
    name: '',
    kind: 'car' as 'car' | 'motorcycle',
    driven: 'rear' as 'rear' | 'front' | 'all',
    mass: '1000',
    power: '180',
    topSpeed: '240',
    lateral: '1.2',
    downforce: '0',
  })
  circuit = $state({ name: '', closed: true, boards: true })
  rows = $state<Row[]>([
    { turn: 'straight', name: '', length: '400', radius: '', angle: '' },
    { turn: 'right', name: '', length: '', radius: '40', angle: '90' },
  ])
  air = $state({ name: 'Dry, calm', temperature: '20', wind: '0', from: '0', wetness: '0' })

  constructor(private readonly view: View) {}

  addRow(turn: Turn): void {
    this.rows.push({ turn, name: '', length: '', radius: '', angle: '' })
  }

  /** What is driven and in what. */
  drive(): FirstDrive {
    return {
      car: {
        name: this.car.name,
        kind: this.car.kind,
        driven: this.car.driven,
        mass_kg: this.#si(this.car.mass),
        peak_power_kw: this.#si(this.car.power),
        top_speed_ms: this.#si(this.car.topSpeed, 'speed'),
        lateral_g: this.#si(this.car.lateral),
        downforce_kg: this.#si(this.car.downforce),
        fuel_kg: 20,
      },
      conditions: {
        name: this.air.name,
        air_temp_c: this.#si(this.air.temperature, 'temperature'),
        wind_speed_ms: this.#si(this.air.wind, 'wind'),
        wind_from_deg: this.#si(this.air.from),
        wetness_pct: this.#si(this.air.wetness),
      },
    } as FirstDrive
  }

  /** The same on the circuit that was typed. */
  plan(): FirstPlan {
    return {
      ...this.drive(),
      circuit: {
        name: this.circuit.name,
        closed: this.circuit.closed,
        boards: this.circuit.boards,
        segments: this.rows.map((row) => ({
          turn: row.turn,
          name: row.name,
          length_m: row.turn === 'straight' ? this.#si(row.length, 'length') : null,
          radius_m: row.turn === 'straight' ? null : this.#si(row.radius, 'length'),
          angle_deg: row.turn === 'straight' ? null : this.#si(row.angle),
        })),
      },
    }
  }

  /** A typed figure in SI units; what is no number goes out as none and is refused by name. */
  #si(text: string, quantity: Quantity = 'none'): number | null {
    const number = typedNumber(text)
    return number === null ? null : this.view.units.read(number, quantity)
  }
}
