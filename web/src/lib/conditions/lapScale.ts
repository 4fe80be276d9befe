import { scaleLinear } from 'd3-scale'

/** A scale of lap times, slower upwards, that one slow curve does not flatten for the others. */
export interface LapScale {
  of: (lap_s: number) => number
  ticks: number[]
  /** The lap above which the scale is compressed; null where it runs evenly. */
  breaksAt: number | null
}

/** So many times farther than the others a curve must reach before the scale is broken for it. */
const FARTHER = 3
/** Share of the height that is left to what lies above the break. */
const ABOVE = 0.22

/** The scale for some curves, each by its lap times; top and bottom are pixels. */
export function lapScale(curves: number[][], top: number, bottom: number): LapScale {
  const laps = curves.flat()
  const low = laps.length > 0 ? Math.min(...laps) : 0
  const high = laps.length > 0 ? Math.max(...laps) : 1
  const reached = curves.filter((one) => one.length > 0).map((one) => Math.max(...one))
  const next = reached.sort((a, b) => b - a)[1]
  const room = Math.max(((next ?? high) - low) * 0.06, 0.1)
  if (next !== undefined && high - low > FARTHER * (next - low + 2 * room)) {
    const breaksAt = next + room
    const scale = scaleLinear(
      [low - room, breaksAt, high + room],
      [bottom, top + ABOVE * (bottom - top), top],
    )
    const under = scaleLinear([low - room, breaksAt], [0, 1]).ticks(4)
    return { of: scale, ticks: [...under.filter((one) => one < breaksAt), high], breaksAt }
  }
  const scale = scaleLinear([low - room, high + room], [bottom, top])
  return { of: scale, ticks: scale.ticks(5), breaksAt: null }
}
