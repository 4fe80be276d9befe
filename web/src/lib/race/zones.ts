import type { FlapZone } from '../api/client'
import { plain } from '../parts/format'
import type { Units } from '../parts/units'

/** Stretches of the lap as a person types them: "150-420, 900-1100", in the units of the page. */
export function zonesIn(text: string, units: Units): FlapZone[] {
  const found = [...text.matchAll(/(\d+(?:\.\d+)?)\s*(?:-|–|to)\s*(\d+(?:\.\d+)?)/g)]
  return found.map(([, from, to]) => ({
    from_m: units.read(Number(from), 'length'),
    to_m: units.read(Number(to), 'length'),
  }))
}

export function zonesSaid(zones: FlapZone[], units: Units): string {
  return zones
    .map((zone) => `${plain(units.length(zone.from_m), 0)}-${plain(units.length(zone.to_m), 0)}`)
    .join(', ')
}
