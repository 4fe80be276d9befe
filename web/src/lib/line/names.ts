import type { LineKind } from '../api/client'

/** The kinds of line in the order of the table, and how each is drawn. */
export const LINES: { kind: LineKind; name: string; dash: string }[] = [
  { kind: 'centre', name: 'Middle of the road', dash: '1 4' },
  { kind: 'short', name: 'Shortest', dash: '2 3 8 3' },
  { kind: 'widest', name: 'Widest arcs', dash: '9 4' },
  { kind: 'late_apex', name: 'Late apexes', dash: '9 3 2 3' },
  { kind: 'fastest', name: 'Fastest', dash: '' },
]

export function lineName(kind: LineKind): string {
  return LINES.find((line) => line.kind === kind)?.name ?? kind
}

export function dashOf(kind: LineKind): string {
  return LINES.find((line) => line.kind === kind)?.dash ?? ''
}

const CHANGED: Record<string, string> = {
  road: 'the road',
  vehicle: 'the vehicle',
  conditions: 'the conditions',
  driver: 'the driver',
  wishes: 'its constraints',
}

/** "the vehicle and the driver" */
export function changedParts(parts: string[]): string {
  const said = parts.map((part) => CHANGED[part] ?? part)
  const last = said.pop()
  return said.length > 0 ? `${said.join(', ')} and ${last}` : (last ?? '')
}
