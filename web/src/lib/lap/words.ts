import type { Corner, FirstLaps } from '../api/client'
import { whole } from '../parts/format'
import type { Units } from '../parts/units'

/** How well a driver knows the circuit, for the first laps. */
export const KNOWN: { confidence: FirstLaps['confidence']; label: string }[] = [
  { confidence: 'new', label: 'never driven here' },
  { confidence: 'some', label: 'driven here before' },
  { confidence: 'known', label: 'known by heart' },
]

const TURNS = { left: 'left', right: 'right' }

/** Where to brake, in words: "11 m past the 100", "34 m before the corner". */
export function brakingPlace(
  corner: Pick<Corner, 'board_call' | 'brake_start_to_corner_m'>,
  units: Units,
): string {
  const call = corner.board_call
  const unit = units.lengthUnit
  if (call) return `${whole(units.length(call.metres))} ${unit} ${call.side} ${call.label}`
  const ahead = units.length(corner.brake_start_to_corner_m ?? 0)
  return ahead >= 0
    ? `${whole(ahead)} ${unit} before the corner`
    : `${whole(-ahead)} ${unit} into the corner`
}

/** One corner as a sentence, for whoever reads or hears the lap instead of seeing the curve. */
export function cornerInWords(corner: Corner, units: Units): string {
  const speed = (ms: number): string => `${whole(units.speed(ms))} ${units.speedUnit}`
  const gear =
    corner.gear === corner.gear_before
      ? `gear ${corner.gear} held`
      : `gear ${corner.gear_before} to ${corner.gear}`
  const slowest = `minimum ${speed(corner.min_speed_ms)} at ${whole(units.length(corner.min_speed_at_m))} ${units.lengthUnit}`
  const exit = `exit at ${speed(corner.exit_speed_ms)}`
  const start = `${corner.name}, ${TURNS[corner.direction]}`
  if (corner.action === 'brake' && corner.braking_distance_m !== null) {
    const from = speed(corner.brake_start_speed_ms ?? 0)
    const distance = `${whole(units.length(corner.braking_distance_m))} ${units.lengthUnit}`
    return `${start}: brake ${brakingPlace(corner, units)}, from ${from}, for ${distance}; ${gear}; ${slowest}; ${exit}.`
  }
  const action = {
    flat: 'flat out',
    lift: 'lift only',
    through: 'still braking from the corner before',
    brake: 'brake',
  }[corner.action]
  return `${start}: ${action}; ${gear}; ${slowest}; ${exit}.`
}
