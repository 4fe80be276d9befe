import kinds from '../api/startingKinds.json'
import type { FirstDrive } from '../api/client'

export type Kind = NonNullable<FirstDrive['car']['kind']>
/** Figures of a kind that a first car is asked for. */
export type Known = 'mass' | 'power' | 'topSpeed' | 'lateral' | 'downforce'

/** Kinds of vehicles to begin with, with usual figures of each. */
export const KINDS = kinds as (Record<Known, number> & {
  kind: Kind
  label: string
  two_wheels: boolean
})[]

export const twoWheeled = (kind: Kind): boolean =>
  KINDS.find((one) => one.kind === kind)?.two_wheels ?? false
