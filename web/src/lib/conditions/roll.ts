import type { Session, SessionPoint } from '../api/client'

/** Where things stand on the roll of a session: bands one under another, marks that do not collide. */

export const LEFT = 58
export const RIGHT = 96
export const CHARACTER_PX = 6.1
const ROW_PX = 15

/** Seconds of a moment on the circuit's clock, from any day. */
export function seconds(at: string): number {
  return Date.parse(`${at}Z`) / 1000
}

export interface Band {
  top: number
  bottom: number
}
export interface Bands {
  heat: Band
  wind: Band
  water: Band
  lap: Band
  words: Band
}

/** The bands of a roll of a height; `rows` of words stand at its foot. */
export function bandsOf(height: number, rows: number): Bands {
  const words = rows * ROW_PX + 4
  const room = height - words - 24
  const part = (from: number, to: number): Band => ({
    top: 4 + room * from,
    bottom: 4 + room * to,
  })
  return {
    heat: part(0, 0.24),
    wind: part(0.28, 0.45),
    water: part(0.49, 0.64),
    lap: part(0.69, 1),
    words: { top: height - words, bottom: height },
  }
}

export interface PlacedMark {
  x: number
  row: number
  said: string
  corner: number | null
  /** Whether the words end at the mark instead of beginning there. */
  ends: boolean
}

/** Marks with a row for their words, so that no two words touch; those without room are left out. */
export function placed(
  marks: Session['marks'],
  px: (at: number) => number,
  width: number,
  rows: number,
): PlacedMark[] {
  // What a driver is told first gets its words first.
  const weight = { tyre: 0, action: 1, braking: 2 }
  const order = [...(marks ?? [])].sort(
    (a, b) => weight[a.what] - weight[b.what] || a.at.localeCompare(b.at),
  )
  const taken: [number, number][][] = Array.from({ length: rows }, () => [])
  const found: PlacedMark[] = []
  for (const mark of order) {
    const x = px(seconds(mark.at))
    const long = mark.said.length * CHARACTER_PX
    const ends = x + long > width - 4
    const span: [number, number] = ends ? [x - long - 6, x + 4] : [x - 4, x + long + 6]
    if (span[0] < 0) continue
    const row = taken.findIndex((spans) =>
      spans.every(([from, to]) => span[1] < from || span[0] > to),
    )
    if (row < 0) continue
    taken[row]?.push(span)
    found.push({ x, row, said: mark.said, corner: mark.corner, ends })
  }
  return found
}

export const rowAt = (words: Band, row: number): number => words.top + 11 + row * ROW_PX

/** Runs of points that belong together: measured ones, then forecast. */
export function firstForecast(points: SessionPoint[]): number {
  const index = points.findIndex((point) => !point.measured)
  return index < 0 ? points.length : index
}
