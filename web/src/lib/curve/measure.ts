/**
 * Widths of text as the page sets it. A text is measured in the page itself, in the styles that it
 * will be drawn in, since a canvas knows nothing of tabular figures or narrow faces.
 */

/**
 * How a label is set: a figure, a place in italics, or words. The names are the page's own styles;
 * words are set as the page itself is.
 */
export type Face = 'figure' | 'place' | 'words'

const FACES: Face[] = ['figure', 'place', 'words']
const REMEMBERED_MOST = 4000

const known = new Map<string, number>()
let made: Record<Face, HTMLSpanElement> | null = null

/** A piece of the page for each face, out of sight. */
export function rulers(): Record<Face, HTMLSpanElement> {
  if (made) return made
  const stand = document.createElement('div')
  stand.ariaHidden = 'true'
  stand.style.cssText =
    'position: fixed; left: 0; top: -100px; visibility: hidden; white-space: pre; contain: layout'
  const spans = FACES.map((face) => {
    const span = document.createElement('span')
    span.className = face
    span.style.display = 'inline-block'
    stand.append(span)
    return [face, span]
  })
  document.body.append(stand)
  made = Object.fromEntries(spans) as Record<Face, HTMLSpanElement>
  return made
}

/** Width of a text in a face of some size [px]. */
export function measured(text: string, face: Face, size: number): number {
  const key = `${face} ${size} ${text}`
  const found = known.get(key)
  if (found !== undefined) return found
  const span = rulers()[face]
  span.style.fontSize = `${size}px`
  span.textContent = text
  const { width } = span.getBoundingClientRect()
  if (known.size >= REMEMBERED_MOST) known.clear()
  known.set(key, width)
  return width
}

/** Measure everything anew from here on. */
export function forgetWidths(): void {
  known.clear()
}
