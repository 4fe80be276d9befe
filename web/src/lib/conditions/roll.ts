import type { Session, SessionPoint } from '../api/client'

/** Where things stand on the roll of a session: bands one under another, marks that do not collide. */

export const LEFT = 58
export const RIGHT = 96
export const CHARACTER_PX = 6.1
const ROW_PX = 15
const MARKS_MOST = 14

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

/** The bands of a roll of a height; `rows` of words stand at its foot. Without water its band is none. */
export function bandsOf(height: number, rows: number, water: boolean): Bands {
  const words = rows * ROW_PX + 4
  const room = height - words - 24
  const part = (from: number, to: number): Band => ({
    top: 4 + room * from,
    bottom: 4 + room * to,
  })
  return {
    heat: part(0, water ? 0.24 : 0.28),
    wind: water ? part(0.28, 0.45) : part(0.32, 0.52),
    water: water ? part(0.49, 0.64) : part(0.52, 0.52),
    lap: water ? part(0.69, 1) : part(0.58, 1),
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

/**
 * Marks with a row for their words, so that no two words touch and no leader runs through words.
 * Where there is no room for all, what a driver is told first keeps its words.
 */
export function placed(
  marks: Session['marks'],
  px: (at: number) => number,
  width: number,
  rows: number,
): PlacedMark[] {
  const weight = { tyre: 0, action: 1, braking: 2 }
  const wanted = [...marks].sort(
    (a, b) => weight[a.what] - weight[b.what] || a.at.localeCompare(b.at),
  )
  let kept: Session['marks'] = []
  for (const mark of wanted) {
    if (kept.length < MARKS_MOST && laidOut([...kept, mark], px, width, rows))
      kept = [...kept, mark]
  }
  return laidOut(kept, px, width, rows) ?? []
}

/** Every mark in a row, from the right to the left: what begins further left hangs lower. */
function laidOut(
  marks: Session['marks'],
  px: (at: number) => number,
  width: number,
  rows: number,
): PlacedMark[] | null {
  const spans: { from: number; to: number; row: number }[] = []
  const found: PlacedMark[] = []
  for (const mark of [...marks].sort((a, b) => b.at.localeCompare(a.at))) {
    const x = px(seconds(mark.at))
    const long = mark.said.length * CHARACTER_PX
    const ends = x + long > width - 4
    const [from, to] = ends ? [x - long - 8, x + 4] : [x - 4, x + long + 8]
    if (from < 0) return null
    let row = 0
    // A leader passes no words on its way down, and its own words touch no others.
    while (
      row < rows &&
      spans.some((one) => (one.row === row ? to >= one.from && from <= one.to : false))
    )
      row += 1
    const crossed = spans.some((one) => one.row < row && one.from < x - 6 && one.to > x)
    if (row >= rows || crossed) return null
    spans.push({ from, to, row })
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

/** Names at the ends of curves, pushed apart where they would touch, none below `bottom`. */
export function spread<T extends { y: number }>(names: T[], apart: number, bottom: number): T[] {
  const order = [...names].sort((a, b) => a.y - b.y).map((one) => ({ ...one }))
  order.forEach((one, n) => {
    const before = order[n - 1]
    if (before && one.y - before.y < apart) one.y = before.y + apart
  })
  const over = (order.at(-1)?.y ?? 0) - bottom
  if (over > 0) for (const one of order) one.y -= over
  return order
}

/** Full hours to mark between two moments [s]: all of them, every other, or quarters of one. */
export function hoursBetween(first: number, last: number): number[] {
  const step = last - first > 7 * 3600 ? 7200 : last - first > 5400 ? 3600 : 900
  const found: number[] = []
  for (let hour = Math.ceil(first / step) * step; hour <= last; hour += step) found.push(hour)
  return found
}

export const clock = (time: number): string => new Date(time * 1000).toISOString().slice(11, 16)

/** The number of the moment under a pointer. */
export function momentUnder(
  event: PointerEvent,
  width: number,
  times: number[],
  at: (x: number) => number,
): number {
  const box = (event.currentTarget as Element).getBoundingClientRect()
  const time = at(((event.clientX - box.left) / box.width) * width)
  const order = times.map((one, index) => ({ index, far: Math.abs(one - time) }))
  return order.sort((a, b) => a.far - b.far)[0]?.index ?? 0
}
