import type { Corner, Result, Trace } from '../api/client'
import { kmh } from '../parts/format'

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

export interface Scale {
  x: (m: number) => number
  y: (ms: number) => number
  baseKmh: number
  topKmh: number
}

export interface Frame {
  width: number
  top: number
  base: number
  /** Room kept under the lowest low for its label [px]. */
  under: number
}

/** Scales of the curve: distance across, speed up; the axis starts under the slowest corner. */
export function scales(results: Result[], length: number, frame: Frame): Scale {
  const speeds = results.flatMap((result) => result.trace.v_ms)
  const slowest = kmh(Math.min(...speeds))
  const fastest = kmh(Math.max(...speeds))
  const topKmh = fastest + 4
  // The base lies as far under the slowest corner as its label needs.
  const share = frame.under / (frame.base - frame.top)
  const baseKmh = Math.max(0, (slowest - share * topKmh) / (1 - share))
  const height = frame.base - frame.top
  return {
    x: (m) => (m / length) * frame.width,
    y: (ms) => frame.base - ((kmh(ms) - baseKmh) / (topKmh - baseKmh)) * height,
    baseKmh,
    topKmh,
  }
}

export function points(trace: Trace, scale: Scale): Point[] {
  return trace.s_m.map((s, index) => ({ x: scale.x(s), y: scale.y(trace.v_ms[index] ?? 0) }))
}

export function pathOf(line: Point[]): string {
  return line
    .map(({ x, y }, index) => `${index === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`)
    .join('')
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

/** Whole tens or twenty-fives between two speeds, for the staff's figures. */
export function ticks(baseKmh: number, topKmh: number, step: number): number[] {
  const first = Math.ceil(baseKmh / step) * step
  const found: number[] = []
  for (let value = first; value <= topKmh; value += step) found.push(value)
  return found
}

/** Where a corner's high stands: the end of full throttle before it. */
export function highAt(corner: Corner): number | null {
  return corner.lift_at_m ?? corner.brake_start_at_m
}
