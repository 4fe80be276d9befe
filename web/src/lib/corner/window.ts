import type { Corner, Result, Trace } from '../api/client'
import { highAt } from '../curve/geometry'

/** The stretch of the lap that a corner's sheet shows, unfolded [m]. */
export interface CornerWindow {
  from: number
  to: number
}

const BEFORE_M = 45
const AFTER_M = 70

/** From before the lift, or the corner's beginning, to after its end. */
export function cornerWindow(corner: Corner, result: Result): CornerWindow {
  const lap = result.length_m
  const high = highAt(corner)
  const back = high === null ? 0 : (corner.begins_at_m - high + lap) % lap
  const lead = back < lap / 2 ? back : 0
  const long = (corner.ends_at_m - corner.begins_at_m + lap) % lap
  const margin = Math.max(BEFORE_M, 0.35 * (lead + long))
  return {
    from: corner.begins_at_m - lead - margin,
    to: corner.begins_at_m + long + Math.max(AFTER_M, 0.3 * (lead + long)),
  }
}

/** A place of the lap beside a window that may lie across the line. */
export function beside(at: number, window: CornerWindow, lap: number): number {
  const middle = (window.from + window.to) / 2
  return at + lap * Math.round((middle - at) / lap)
}

/** The trace between the ends of a window, its places unfolded; one point more on either side. */
export function cut(trace: Trace, window: CornerWindow, lap: number, closed: boolean): Trace {
  const found: { at: number; index: number }[] = []
  const shifts = closed ? [-lap, 0, lap] : [0]
  for (const shift of shifts)
    trace.s_m.forEach((s, index) => {
      const at = s + shift
      if (at >= window.from - 5 && at <= window.to + 5) found.push({ at, index })
    })
  found.sort((a, b) => a.at - b.at)
  const kept = found.filter((one, n) => n === 0 || one.at - (found[n - 1]?.at ?? 0) > 1e-6)
  const pick = (values: number[]): number[] => kept.map((one) => values[one.index] ?? 0)
  return {
    s_m: kept.map((one) => one.at),
    x_m: pick(trace.x_m),
    y_m: pick(trace.y_m),
    curvature_per_m: pick(trace.curvature_per_m),
    v_ms: pick(trace.v_ms),
    t_s: pick(trace.t_s),
    ax_g: pick(trace.ax_g),
    ay_g: pick(trace.ay_g),
    gear: pick(trace.gear),
    rpm: pick(trace.rpm),
    throttle_pct: pick(trace.throttle_pct),
    brake_pct: pick(trace.brake_pct),
  }
}

/** Runs of one gear along a trace. */
export function gearRuns(trace: Trace): { gear: number; from: number; to: number }[] {
  const runs: { gear: number; from: number; to: number }[] = []
  trace.s_m.forEach((at, index) => {
    const gear = trace.gear[index] ?? 0
    const last = runs[runs.length - 1]
    if (last && last.gear === gear) last.to = at
    else {
      if (last) last.to = at
      runs.push({ gear, from: at, to: at })
    }
  })
  return runs
}

/** Words that want a place on a drawing, the first of their places that is free; null where none. */
export interface Note {
  id: string
  width: number
  height: number
  /** Left and top of each place that would do, the best one first. */
  places: { left: number; top: number }[]
}

export function settled(
  notes: Note[],
  frame: { width: number; top: number; bottom: number },
  taken: { left: number; right: number; top: number; bottom: number }[],
): Map<string, { left: number; top: number }> {
  const boxes = [...taken]
  const found = new Map<string, { left: number; top: number }>()
  for (const note of notes) {
    const place = note.places.find(({ left, top }) => {
      const box = { left, right: left + note.width, top, bottom: top + note.height }
      if (box.left < 0 || box.right > frame.width) return false
      if (box.top < frame.top || box.bottom > frame.bottom) return false
      return !boxes.some(
        (other) =>
          box.left < other.right + 4 &&
          box.right > other.left - 4 &&
          box.top < other.bottom + 1 &&
          box.bottom > other.top - 1,
      )
    })
    if (!place) continue
    found.set(note.id, place)
    boxes.push({
      left: place.left,
      right: place.left + note.width,
      top: place.top,
      bottom: place.top + note.height,
    })
  }
  return found
}
