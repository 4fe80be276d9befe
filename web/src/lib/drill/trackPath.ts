import type { Trace } from '../api/client'

export interface Spot {
  x: number
  y: number
}

/** The lap as driven in a box of so many pixels, with a margin; the first heading runs to the right. */
export function spots(trace: Pick<Trace, 'x_m' | 'y_m'>, width: number, height: number): Spot[] {
  const margin = 16
  const left = Math.min(...trace.x_m)
  const top = Math.max(...trace.y_m)
  const wide = Math.max(Math.max(...trace.x_m) - left, 1)
  const tall = Math.max(top - Math.min(...trace.y_m), 1)
  const scale = Math.min((width - 2 * margin) / wide, (height - 2 * margin) / tall)
  const [x0, y0] = [(width - wide * scale) / 2, (height - tall * scale) / 2]
  return trace.x_m.map((x, n) => ({
    x: x0 + (x - left) * scale,
    y: y0 + (top - (trace.y_m[n] ?? 0)) * scale,
  }))
}

/** Points as a path, to a tenth of a pixel. */
export function drawn(points: Spot[]): string {
  return points.map((p, n) => `${n ? 'L' : 'M'}${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('')
}

/** What lies between two places of the lap; across the line where the second is the smaller. */
export function between(points: Spot[], atM: number[], fromM: number, toM: number): Spot[][] {
  const inside = (low: number, high: number): Spot[] =>
    points.filter((_, n) => (atM[n] ?? 0) >= low && (atM[n] ?? 0) <= high)
  return fromM <= toM ? [inside(fromM, toM)] : [inside(fromM, Infinity), inside(-Infinity, toM)]
}
