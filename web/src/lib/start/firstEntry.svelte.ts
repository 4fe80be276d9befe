import type { FirstDrive, FirstPlan } from '../api/client'
import { typedNumber } from '../parts/format'
import { keyOf, type Quantity, type Units } from '../parts/units'
import type { View } from '../state/view.svelte'
import { KINDS, twoWheeled, type Kind, type Known } from './kinds'

export type Turn = 'straight' | 'left' | 'right'

/** A part of the circuit as typed: a straight has a length, a corner radius and angle. */
export interface Row {
  turn: Turn
  name: string
  length: string
  radius: string
  angle: string
}

/** What stands in the fields until somebody types: usual figures of each kind. */
const KNOWN: Known[] = ['mass', 'power', 'topSpeed', 'lateral', 'downforce']
const usualOf = (kind: Kind, name: Known): number =>
  KINDS.find((one) => one.kind === kind)?.[name] ?? 0
/** Figures that are typed in the units that the page speaks. */
const QUANTITIES: Partial<Record<Known, Quantity>> = {
  topSpeed: 'speed',
  mass: 'mass',
  power: 'power',
  downforce: 'mass',
}

/** A number without trailing zeros. */
const typed = (value: number, decimals: number): string => String(Number(value.toFixed(decimals)))

/** What is typed in the first steps, as it stands in the fields. */
export class FirstEntry {
  car = $state({
    name: '',
    kind: 'car' as Kind,
    driven: 'rear' as 'rear' | 'front' | 'all',
    mass: '1000',
    power: '180',
    topSpeed: '240',
    lateral: '1.2',
    downforce: '0',
  })
  circuit = $state({ name: '', closed: true, boards: true })
  rows = $state<Row[]>([])
  air = $state({ name: 'Dry, calm', temperature: '20', wind: '0', from: '0', wetness: '0' })

  /** The units that the fields stand in. */
  #units: Units

  constructor(private readonly view: View) {
    this.#units = view.units
    for (const name of KNOWN) this.car[name] = this.#usual('car', name)
    this.air.temperature = typed(this.#units.show(20, 'temperature'), 0)
    const length = typed(this.#units.show(400, 'length'), 0)
    const radius = typed(this.#units.show(40, 'length'), 0)
    this.rows = [
      { turn: 'straight', name: '', length, radius: '', angle: '' },
      { turn: 'right', name: '', length: '', radius, angle: '90' },
    ]
  }

  /** Whether what is driven has four wheels. */
  get fourWheels(): boolean {
    return !twoWheeled(this.car.kind)
  }

  /** Another kind of vehicle: figures that nobody has touched become what is usual of it. */
  turnTo(kind: Kind): void {
    const before = this.car.kind
    for (const name of KNOWN)
      if (this.car[name] === this.#usual(before, name)) this.car[name] = this.#usual(kind, name)
    this.car.kind = kind
  }

  /** Say what was typed in other units, so that it means the same. */
  speak(units: Units): void {
    const before = this.#units
    if (before.system === units.system) return
    const untouched = KNOWN.filter((name) => this.car[name] === this.#usual(this.car.kind, name))
    this.#units = units
    const said = (text: string, quantity: Quantity, decimals: number): string => {
      const number = typedNumber(text)
      if (number === null) return text
      return typed(units.show(before.read(number, quantity), quantity), decimals)
    }
    // What nobody has touched stays what is usual, to its last digit.
    for (const name of KNOWN)
      this.car[name] = untouched.includes(name)
        ? this.#usual(this.car.kind, name)
        : said(this.car[name], QUANTITIES[name] ?? 'none', name === 'lateral' ? 2 : 1)
    this.air.temperature = said(this.air.temperature, 'temperature', 1)
    this.air.wind = said(this.air.wind, 'wind', 1)
    for (const row of this.rows) {
      row.length = said(row.length, 'length', 1)
      row.radius = said(row.radius, 'length', 1)
    }
  }

  #usual(kind: Kind, name: Known): string {
    const shown = this.#units.show(usualOf(kind, name), QUANTITIES[name] ?? 'none')
    return typed(shown, name === 'lateral' ? 2 : 1)
  }

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
        mass_kg: this.#si(this.car.mass, 'mass'),
        peak_power_kw: this.#si(this.car.power, 'power'),
        top_speed_ms: this.#si(this.car.topSpeed, 'speed'),
        lateral_g: this.#si(this.car.lateral),
        downforce_kg: this.#si(this.car.downforce, 'mass'),
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
        board_unit: keyOf(this.view.system, 'length') as 'm' | 'yd' | 'ft',
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

  /** A typed figure in SI units; what is not a number goes out as none and is refused by name. */
  #si(text: string, quantity: Quantity = 'none'): number | null {
    const number = typedNumber(text)
    return number === null ? null : this.view.units.read(number, quantity)
  }
}
