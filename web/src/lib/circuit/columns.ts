import type { Segment } from '../api/client'
import type { Quantity } from '../parts/units'
import type { FigureName } from './edits.svelte'

/** A column of the circuit's sheet; steps are in the unit shown. */
export interface Column {
  figure: FigureName
  of: Segment['kind'] | 'both'
  label: string
  unit: string
  quantity: Quantity
  decimals: number
  step: number
  fine: number
  /** Shown where the figure is not set, and taken for it. */
  usual: string
  hint: string
  /** What the head of the column says, where the label is too long for it. */
  head?: string
}

const column = (
  figure: FigureName,
  of: Column['of'],
  label: string,
  unit: string,
  [decimals, step, fine]: [number, number, number],
  hint: string,
  more: Partial<Column> = {},
): Column => ({
  figure,
  of,
  label,
  unit,
  quantity: 'none',
  decimals,
  step,
  fine,
  usual: '',
  hint,
  ...more,
})

const length = { quantity: 'length' } as const

export const FIGURES: Column[] = [
  column('length_m', 'straight', 'Length', '', [1, 1, 0.1], 'Length of the straight', length),
  column('radius_m', 'corner', 'Radius', '', [1, 1, 0.1], 'Radius', length),
  column('angle_deg', 'corner', 'Angle', '°', [1, 1, 0.1], 'Angle the corner turns through'),
  column('end_radius_m', 'corner', 'Exit R', '', [1, 1, 0.1], 'Radius at the exit, where another', {
    ...length,
    usual: 'same',
  }),
  column(
    'transition_m',
    'corner',
    'Ramp',
    '',
    [1, 1, 0.1],
    'Length over which the curvature rises at the entry and falls at the exit',
    length,
  ),
  column(
    'end_transition_m',
    'corner',
    'Ramp out',
    '',
    [1, 1, 0.1],
    'Ramp at the exit, where another',
    {
      ...length,
      usual: 'same',
      head: 'out',
    },
  ),
  column('banking_deg', 'corner', 'Bank', '°', [1, 0.5, 0.1], 'Positive where it helps the corner'),
  column('grade_pct', 'both', 'Grade', '%', [2, 0.1, 0.02], 'Uphill positive'),
  column('grip_factor', 'both', 'Grip', '', [3, 0.01, 0.002], 'Multiplies the tyres’ grip here'),
]

export const UNCERTAINTIES: Column[] = [
  column(
    'length_uncertainty_pct',
    'straight',
    'Length ±',
    '%',
    [1, 0.5, 0.1],
    'Standard deviation; 0 locks the length',
    {
      usual: '3',
    },
  ),
  column(
    'radius_uncertainty_pct',
    'corner',
    'Radius ±',
    '%',
    [1, 0.5, 0.1],
    'Standard deviation; 0 locks the radius',
    {
      usual: '10',
    },
  ),
  column(
    'angle_uncertainty_pct',
    'corner',
    'Angle ±',
    '%',
    [1, 0.5, 0.1],
    'Standard deviation; 0 locks the angle',
    {
      usual: '5',
    },
  ),
  column(
    'grade_uncertainty_pct',
    'both',
    'Grade ±',
    'points',
    [1, 0.1, 0.1],
    'Standard deviation in percentage points; 0 locks the grade',
    {
      usual: '0.5',
    },
  ),
]
