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

/** A text as it is to be set, its size in px. */
export interface Setting {
  text: string
  face: Face
  size: number
}

const known = new Map<string, number>()
let stand: HTMLElement | null = null

/** A piece of the page, out of sight, for texts to be set in. */
function outOfSight(): HTMLElement {
  if (stand) return stand
  stand = document.createElement('div')
  stand.ariaHidden = 'true'
  stand.style.cssText =
    'position: fixed; left: 0; top: -100px; visibility: hidden; white-space: pre; contain: layout'
  document.body.append(stand)
  return stand
}

function put({ text, face, size }: Setting): HTMLSpanElement {
  const span = document.createElement('span')
  span.className = face
  span.style.cssText = `display: inline-block; font-size: ${size}px`
  span.textContent = text
  return span
}

function keyOf({ text, face, size }: Setting): string {
  return `${face} ${size} ${text}`
}

/** A text as wide as another, with zeros for its figures: in every face they are equally wide. */
function asWide(setting: Setting): Setting {
  return { ...setting, text: setting.text.replace(/[0-9]/g, '0') }
}

/** Widths of texts [px]. All that are new are set before one is read: each reading lays out anew. */
export function measured(given: Setting[]): number[] {
  if (known.size >= REMEMBERED_MOST) known.clear()
  const settings = given.map(asWide)
  const fresh = settings.filter((setting) => !known.has(keyOf(setting)))
  if (fresh.length > 0) {
    const spans = fresh.map(put)
    outOfSight().replaceChildren(...spans)
    fresh.forEach((setting, n) => {
      known.set(keyOf(setting), spans[n]?.getBoundingClientRect().width ?? 0)
    })
    outOfSight().replaceChildren()
  }
  return settings.map((setting) => known.get(keyOf(setting)) ?? 0)
}

/** What each face is called where a page's fonts are asked for. */
export function namesOfFaces(): string[] {
  const spans = FACES.map((face) => put({ text: '', face, size: 16 }))
  outOfSight().replaceChildren(...spans)
  return spans.map((span) => {
    const { fontStyle, fontWeight, fontStretch, fontFamily } = getComputedStyle(span)
    return `${fontStyle} ${fontWeight} ${fontStretch} 16px ${fontFamily}`
  })
}

/** Measure everything anew from here on. */
export function forgetWidths(): void {
  known.clear()
}
