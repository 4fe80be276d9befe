import type { FirstLaps } from '../api/client'

/** How well a driver knows the circuit, for the first laps. */
export const KNOWN: { confidence: FirstLaps['confidence']; label: string }[] = [
  { confidence: 'new', label: 'never driven here' },
  { confidence: 'some', label: 'driven here before' },
  { confidence: 'known', label: 'known by heart' },
]
