import { forgetWidths, measured, namesOfFaces, type Face, type Setting } from './measure'

/** Sizes of the labels that are measured [px]. */
export const SIZES = {
  denseHigh: 14,
  denseLow: 15,
  high: 18,
  low: 21,
  place: 14,
  name: 16,
  note: 13,
}

/** How often a face has arrived; whoever has measured reads it, and is laid out anew. */
let arrivals = $state(0)

/** Width of a text in a face of some size [px]. */
export function textWidth(text: string, face: Face, size: number): number {
  return textWidths([{ text, face, size }])[0] ?? 0
}

/** Widths of texts [px]; of many together is much quicker than one by one. */
export function textWidths(settings: Setting[]): number[] {
  void arrivals
  return measured(settings)
}

function arrived(): void {
  forgetWidths()
  arrivals += 1
}

/**
 * Ask for every face that labels are set in; resolves when they are here, or cannot be had. Faces
 * that come later have everything laid out anew.
 */
export async function loadFaces(): Promise<void> {
  document.fonts.addEventListener('loadingdone', arrived)
  const asked = namesOfFaces().map((face) => document.fonts.load(face, '0aÅ'))
  await Promise.allSettled(asked)
  arrived()
}
