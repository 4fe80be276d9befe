import type { Corner, CornerComparison } from '../api/client'
import type { Units } from '../parts/units'

const ACTIONS = { brake: 'braked', flat: 'flat', lift: 'lifted', through: 'still braking' }

/** How a corner’s braking point moved against the baseline, in words. */
export function brakeMoved(corner: Corner, against: CornerComparison | null, units: Units): string {
  if (!against) return ''
  if (corner.action !== against.base_action) return `was ${ACTIONS[against.base_action]}`
  if (against.braking_earlier_m === null) return ''
  const earlier = units.length(against.braking_earlier_m)
  if (Math.abs(earlier) < 0.05) return 'same'
  return `${Math.abs(earlier).toFixed(1)} ${earlier > 0 ? 'earlier' : 'later'}`
}

/** How a corner’s minimum speed moved. */
export function speedMoved(against: CornerComparison | null, units: Units): string {
  if (!against) return ''
  const faster = units.speed(against.min_speed_ms)
  if (Math.abs(faster) < 0.05) return 'same'
  return `${Math.abs(faster).toFixed(1)} ${faster > 0 ? 'faster' : 'slower'}`
}

/** The baseline’s gear in the corner, where it was another. */
export function gearMoved(corner: Corner, against: CornerComparison | null): string {
  if (!against || against.base_gear === corner.gear) return ''
  return `was ${against.base_gear}`
}
