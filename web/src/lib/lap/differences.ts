import type { Corner } from '../api/client'
import { kmh } from '../parts/format'

/** How a corner's braking point moved since the plan was opened, in words. */
export function brakeMoved(corner: Corner, before: Corner | null, lengthM: number): string {
  if (!before) return ''
  if (corner.action !== before.action) return `was ${before.action}`
  // Seen from the corner, so that a lap that grew or shrank elsewhere moves nothing here.
  const now = corner.brake_start_to_corner_m
  const then = before.brake_start_to_corner_m
  if (now === null || then === null || lengthM <= 0) return ''
  const earlier = now - then
  if (Math.abs(earlier) < 0.05) return 'same'
  return `${Math.abs(earlier).toFixed(1)} ${earlier > 0 ? 'earlier' : 'later'}`
}

/** How a corner's minimum speed moved since the plan was opened. */
export function speedMoved(corner: Corner, before: Corner | null): string {
  if (!before) return ''
  const faster = kmh(corner.min_speed_ms - before.min_speed_ms)
  if (Math.abs(faster) < 0.05) return 'same'
  return `${Math.abs(faster).toFixed(1)} ${faster > 0 ? 'faster' : 'slower'}`
}
