import type { Car } from '../api/client'

/** A figure of a car by its path; null where it is not set. */
export function at(car: Car, path: string[]): number | null {
  let value: unknown = car
  for (const key of path) value = (value as Record<string, unknown> | undefined)?.[key]
  return typeof value === 'number' ? value : null
}

/** The car with one figure otherwise. */
export function withFigure(car: Car, path: string[], value: number | null): Car {
  const [key = '', ...rest] = path
  const holder = car as unknown as Record<string, unknown>
  return {
    ...car,
    [key]: rest.length === 0 ? value : withFigure(holder[key] as Car, rest, value),
  }
}
