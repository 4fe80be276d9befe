import { range } from 'd3-array'
import { scaleLinear } from 'd3-scale'
import type { Corner, Trace } from '../api/client'
import type { Units } from '../parts/units'

/** What the pedals do on a stretch of the lap. */
export type Pedals = 'power' | 'brake' | 'coast' | 'part'

export interface Point {
  x: number
  y: number
}

export interface Stretch {
  pedals: Pedals
  from: number
  to: number
}

/** From metres and m/s to the picture; `low` and `high` end the axis in the units of the page. */
export interface Scale {
  x: (m: number) => number
  y: (ms: number) => number
  low: number
  high: number
}

export interface Frame {
  width: number
  top: number
  base: number
  /** Room kept under the lowest low for its label [px]. */
  under: number
}

/** A lap of almost one speed is not blown up to the whole height (in the units of the page). */
const LEAST_SPAN = 50

/** Scales of the curve: distance across, speed up; the axis starts under the slowest corner. */
export function scales(speedsMs: number[], length: number, frame: Frame, units: Units): Scale {
  const slowest = units.speed(speedsMs.reduce((a, b) => Math.min(a, b), Infinity))
  const fastest = units.speed(speedsMs.reduce((a, b) => Math.max(a, b), 0))
  const high = fastest + 4
  // The base lies as far under the slowest corner as its label needs.
  const share = frame.under / (frame.base - frame.top)
  const low = Math.max(0, Math.min((slowest - share * high) / (1 - share), high - LEAST_SPAN))
  const up = scaleLinear([low, high], [frame.base, frame.top])
  return {
    x: scaleLinear([0, length], [0, frame.width]),
    y: (ms) => up(units.speed(ms)),
    low,
    high,
  }
}

export function points(xs: number[], speedsMs: number[], scale: Scale): Point[] {
  return xs.map((x, index) => ({ x, y: scale.y(speedsMs[index] ?? 0) }))
}

/** A tenth of a pixel; several times as quick as formatting with a fixed number of decimals. */
const tenth = (value: number): number => Math.round(value * 10) / 10

export function pathOf(line: Point[]): string {
  let path = ''
  for (const { x, y } of line) path += `${path === '' ? 'M' : 'L'}${tenth(x)} ${tenth(y)}`
  return path
}

/** How far a thinned line may stray from the full one [px]. */
const STRAY = 0.2

/**
 * The line with the points left out that its neighbours stand in for: between the points kept it
 * strays upwards and downwards by no more than a fifth of a pixel. Points in order of x.
 */
export function thinned(line: Point[]): Point[] {
  let from = line[0]
  if (!from) return []
  const kept = [from]
  let steepest = Infinity
  let flattest = -Infinity
  let previous = from
  for (const point of line.slice(1)) {
    const along = point.x - from.x
    const slope = along > 0 ? (point.y - from.y) / along : 0
    // Leaving out `previous` is allowed while one straight line meets every point's tolerance.
    if (slope > steepest || slope < flattest || along <= 0) {
      kept.push(previous)
      from = previous
      steepest = Infinity
      flattest = -Infinity
    }
    const reach = point.x - from.x
    if (reach > 0) {
      steepest = Math.min(steepest, (point.y - from.y + STRAY) / reach)
      flattest = Math.max(flattest, (point.y - from.y - STRAY) / reach)
    }
    previous = point
  }
  kept.push(previous)
  return kept
}

function pedalsAt(trace: Trace, index: number): Pedals {
  if ((trace.brake_pct[index] ?? 0) > 0) return 'brake'
  const throttle = trace.throttle_pct[index] ?? 0
  if (throttle >= 99.9) return 'power'
  return throttle <= 0 ? 'coast' : 'part'
}

/** Runs of points with the same pedals; neighbours share their joint. */
export function stretches(trace: Trace): Stretch[] {
  const found: Stretch[] = []
  const last = trace.s_m.length - 1
  for (let index = 0; index < last; index += 1) {
    const pedals = pedalsAt(trace, index)
    const previous = found[found.length - 1]
    if (previous && previous.pedals === pedals) previous.to = index + 1
    else found.push({ pedals, from: index, to: index + 1 })
  }
  return found
}

/** Index of the last trace point at or before a position. */
export function indexAt(trace: Trace, at: number): number {
  let low = 0
  let high = trace.s_m.length - 1
  while (low < high) {
    const middle = Math.ceil((low + high) / 2)
    if ((trace.s_m[middle] ?? 0) <= at) low = middle
    else high = middle - 1
  }
  return low
}

/** Speed at a position, linear between trace points. */
export function speedAt(trace: Trace, at: number): number {
  const index = indexAt(trace, at)
  const next = Math.min(index + 1, trace.s_m.length - 1)
  const from = trace.s_m[index] ?? 0
  const to = trace.s_m[next] ?? 0
  const share = to > from ? (at - from) / (to - from) : 0
  return (trace.v_ms[index] ?? 0) * (1 - share) + (trace.v_ms[next] ?? 0) * share
}

/** Whole multiples of a step between two values, both included. */
export function ticks(low: number, high: number, step: number): number[] {
  return range(Math.ceil(low / step), Math.floor(high / step) + 1).map((count) => count * step)
}

/** Step between the staff's figures: about four of them. */
export function tickStep(low: number, high: number): number {
  return [10, 20, 50, 100].find((step) => (high - low) / step <= 5.5) ?? 100
}

/** Where a corner's high stands: the end of full throttle before it. */
export function highAt(corner: Corner): number | null {
  return corner.lift_at_m ?? corner.brake_start_at_m
}
