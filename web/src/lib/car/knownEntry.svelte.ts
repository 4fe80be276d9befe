import type { Car, QuickCar, Stated } from '../api/client'
import { plain, typedNumber } from '../parts/format'
import type { Units } from '../parts/units'
import type { Kind } from '../start/kinds'
import { STATEMENTS, statementOf, type Statement } from './statements'

/** What is known of a car, in SI units; null or absent where nothing is. */
export interface Known {
  name: string
  kind: Kind
  driven: 'rear' | 'front' | 'all'
  aspiration: string
  standard: string
  tyre: string
  ratios: (number | null)[]
  /** Figures by their field: statements, the speeds they belong to (`id@`), and the rest. */
  figures: Record<string, number | null>
}

const NOTHING: Known = {
  name: 'New car',
  kind: 'car',
  driven: 'rear',
  aspiration: 'natural',
  standard: 'iso_1585',
  tyre: '',
  ratios: [],
  figures: {},
}

/** A form of what is known of a car: held in SI, typed and shown in the units of the page. */
export class KnownEntry {
  known = $state.raw<Known>(NOTHING)
  /** A field under the hand, as it is typed. */
  #draft = $state.raw<{ field: string; text: string } | null>(null)
  readonly stated = $derived.by(() =>
    STATEMENTS.flatMap((one): Stated[] => {
      const value = this.known.figures[one.id]
      if (value === null || value === undefined || value <= 0) return []
      return [{ quantity: one.quantity, value, at: this.at(one) }]
    }),
  )

  constructor(private readonly units: () => Units) {}

  /** What was entered when the car was built; nothing of one that was not built from known figures. */
  goOnFrom(car: Car): void {
    const entered = car.known
    if (!entered) {
      this.clear()
      return
    }
    const figures: Known['figures'] = {
      gears: entered.gears ?? null,
      power_rpm: entered.power_rpm ?? null,
      rev_limit_rpm: entered.rev_limit_rpm ?? null,
      final_drive: entered.final_drive ?? null,
      temp: car.engine.intake?.stated_temp_c ?? null,
      pressure: car.engine.intake?.stated_pressure_hpa ?? null,
      humidity: car.engine.intake?.stated_humidity_pct ?? null,
    }
    for (const stated of entered.stated ?? []) {
      const one = statementOf(stated, this.units())
      if (!one) continue
      figures[one.id] = stated.value
      if (one.at) figures[`${one.id}@`] = stated.at ?? null
    }
    this.known = {
      name: car.name,
      kind: entered.kind ?? NOTHING.kind,
      driven: entered.driven ?? NOTHING.driven,
      aspiration: car.engine.intake?.aspiration ?? NOTHING.aspiration,
      standard: car.engine.intake?.standard ?? NOTHING.standard,
      tyre: entered.tyre_code ?? '',
      ratios: entered.ratios ?? [],
      figures,
    }
  }

  clear(): void {
    this.known = NOTHING
  }

  set(change: Partial<Known>): void {
    this.known = { ...this.known, ...change }
  }

  /** A field's text: under the hand as typed, else its figure in the units of the page. */
  text(field: string, show: (si: number) => number, decimals: number): string {
    if (this.#draft?.field === field) return this.#draft.text
    const value = this.known.figures[field]
    return value === null || value === undefined ? '' : plain(show(value), decimals)
  }

  typing(field: string): boolean {
    return this.#draft?.field === field
  }

  leave(): void {
    this.#draft = null
  }

  type(field: string, text: string, read: (shown: number) => number): void {
    this.#draft = { field, text }
    const value = text.trim() === '' ? null : typedNumber(text)
    this.#figure(field, value === null ? null : read(value))
  }

  /** What is stated stays at the speed that its label says, whatever the units are later. */
  enter(one: Statement, text: string): void {
    const at = this.at(one)
    this.type(one.id, text, (shown) => one.read(shown, this.units()))
    if (one.at) this.#figure(`${one.id}@`, this.known.figures[one.id] === null ? null : at)
  }

  get ratios(): string {
    if (this.#draft?.field === 'ratios') return this.#draft.text
    return this.known.ratios.map((one) => (one === null ? '?' : plain(one, 4))).join(' ')
  }

  typeRatios(text: string): void {
    this.#draft = { field: 'ratios', text }
    const parts = text.split(/[\s;/]+/).filter((part) => part !== '')
    this.set({ ratios: parts.map(typedNumber) })
  }

  /** The speed or distance that a statement belongs to. */
  at(one: Statement): number | null {
    return one.at ? (this.known.figures[`${one.id}@`] ?? one.at.usual(this.units())) : null
  }

  /** What is asked of the server; what is left out is as usual, which it knows. */
  wanted(car: Car | undefined): QuickCar {
    const { name, kind, driven, tyre, ratios, aspiration, standard, figures } = this.known
    return {
      ...(name.trim() === '' ? {} : { name: name.trim() }),
      kind,
      driven,
      ...(figures['gears'] ? { gears: figures['gears'] } : {}),
      power_rpm: figures['power_rpm'] ?? null,
      rev_limit_rpm: figures['rev_limit_rpm'] ?? null,
      tyre_code: tyre,
      // What is no number is refused where it stands.
      ratios: ratios as number[],
      final_drive: figures['final_drive'] ?? null,
      intake: {
        aspiration,
        standard,
        stated_temp_c: figures['temp'] ?? null,
        stated_pressure_hpa: figures['pressure'] ?? null,
        stated_humidity_pct: figures['humidity'] ?? null,
      } as NonNullable<QuickCar['intake']>,
      ...(car ? { fuel_kg: car.fuel_kg, driver_kg: car.driver_kg } : {}),
      stated: this.stated,
    } as QuickCar
  }

  #figure(field: string, value: number | null): void {
    this.set({ figures: { ...this.known.figures, [field]: value } })
  }
}
