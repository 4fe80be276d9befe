import type { Sweep, SweepPoint } from '../api/client'
import { lapTime, plain, whole } from '../parts/format'
import type { Units } from '../parts/units'

export type LapFigures = NonNullable<SweepPoint['figures']>

/** One of the figures of a lap that a sweep can be drawn in. */
export interface Reading {
  key: string
  label: string
  unit: string
  group: string
  /** Whether bands and the best stand for it: for the lap time alone. */
  banded: boolean
  /** Room above and below a curve that is flat, in the figure's own unit. */
  least: number
  of: (figures: LapFigures, point?: SweepPoint) => number | null
  said: (value: number) => string
}

const seconds = (value: number): string => value.toFixed(3)

/** Everything a sweep can be drawn in, as the page's units have it. */
export function readingsOf(sweep: Sweep, units: Units): Reading[] {
  const speed = { unit: units.speedUnit, least: 0.5, said: (value: number) => plain(value, 1) }
  const time = { unit: 's', least: 0.01, said: seconds }
  const straights = sweep.stretches
    .map((one, index) => ({ one, index }))
    .filter(({ one }) => one.straight)
  const corners = sweep.stretches.filter((one) => !one.straight)
  return [
    {
      key: 'lap',
      label: 'Lap time',
      unit: '',
      group: 'Lap',
      banded: true,
      least: 0.01,
      of: (figures) => figures.lap_time_s,
      said: lapTime,
    },
    {
      key: 'top',
      label: 'Top speed',
      group: 'Lap',
      banded: false,
      of: (figures) => units.speed(figures.top_speed_ms),
      ...speed,
    },
    {
      key: 'rpm',
      label: 'Engine at the top speed',
      unit: 'rpm',
      group: 'Lap',
      banded: false,
      least: 20,
      of: (figures) => figures.top_rpm,
      said: whole,
    },
    {
      key: 'fuel',
      label: 'Fuel a lap',
      unit: 'l',
      group: 'Lap',
      banded: false,
      least: 0.005,
      of: (figures) => figures.fuel_litres,
      said: (value) => plain(value, 3),
    },
    ...sweep.present.sectors_s.map((_, index) => ({
      key: `sector-${index}`,
      label: `Sector ${index + 1}`,
      group: 'Lap',
      banded: false,
      of: (figures: LapFigures) => figures.sectors_s[index] ?? null,
      ...time,
    })),
    ...corners.map((one) => ({
      key: `minimum-${one.corner}`,
      label: `Minimum speed, ${one.label}`,
      group: 'Minimum speed',
      banded: false,
      of: (figures: LapFigures) =>
        units.speed(figures.corners[one.corner]?.min_speed_ms ?? 0) || null,
      ...speed,
    })),
    ...sweep.stretches.map((one, index) => ({
      key: `stretch-${index}`,
      label: `Time, ${one.label}`,
      group: 'Time by corner and straight',
      banded: false,
      of: (figures: LapFigures) => figures.stretches_s[index] ?? null,
      ...time,
    })),
    ...straights.map(({ one, index }) => ({
      key: `end-${index}`,
      label: `Speed at the end, ${one.label}`,
      group: 'Speed at the end of a straight',
      banded: false,
      of: (figures: LapFigures) => units.speed(figures.ends_ms[index] ?? 0) || null,
      ...speed,
    })),
    ...(sweep.rival
      ? straights.map(({ one, index }) => ({
          key: `gained-${index}`,
          label: `Gain on ${sweep.rival?.name ?? ''}, ${one.label}`,
          unit: units.lengthUnit,
          group: `Against ${sweep.rival?.name ?? ''}`,
          banded: false,
          least: 0.2,
          of: (_: LapFigures, point?: SweepPoint) => {
            const gained = point?.gained_m?.[index]
            return typeof gained === 'number' ? units.length(gained) : null
          },
          said: (value: number) => plain(value, 1),
        }))
      : []),
    ...sweep.boards.map((one, index) => ({
      key: `board-${index}`,
      label: `Speed at ${one.label}`,
      group: 'Speed at a board',
      banded: false,
      of: (figures: LapFigures) => units.speed(figures.board_speeds_ms[index] ?? 0) || null,
      ...speed,
    })),
  ]
}
