import type { Point } from './geometry'

export interface Box {
  left: number
  top: number
  right: number
  bottom: number
}

/** A label wanted at a point of the curve: a figure with a place under it. */
export interface Wanted {
  id: string
  anchor: Point
  figureWidth: number
  placeWidth: number
  /** Speed shed: the larger, the earlier the label chooses. */
  weight: number
}

export interface Placed {
  id: string
  x: number
  top: number
  anchor: Point
  withPlace: boolean
  moved: boolean
}

export interface Placement {
  placed: Placed[]
  lost: string[]
}

/** Heights of a label's two lines [px]; without a place line a label never shows one. */
export interface LabelSize {
  figure: number
  place: number | null
}

const LABEL_GAP = 5
const CURVE_GAP = 3

function boxOf(x: number, top: number, width: number, height: number): Box {
  return { left: x - width / 2, top, right: x + width / 2, bottom: top + height }
}

export function overlap(a: Box, b: Box, gap: number): boolean {
  return (
    a.left - gap < b.right &&
    b.left - gap < a.right &&
    a.top - gap < b.bottom &&
    b.top - gap < a.bottom
  )
}

/** Number of the first point at or right of an x (points in order of x). */
function firstFrom(curve: Point[], x: number): number {
  let low = 0
  let high = curve.length
  while (low < high) {
    const middle = (low + high) >> 1
    if ((curve[middle]?.x ?? 0) < x) low = middle + 1
    else high = middle
  }
  return low
}

/** Whether a box comes within 3 px of the curve (points in order of x). */
export function touchesCurve(box: Box, curve: Point[]): boolean {
  const left = box.left - CURVE_GAP
  const right = box.right + CURVE_GAP
  for (let index = Math.max(firstFrom(curve, left), 1); index < curve.length; index += 1) {
    const from = curve[index - 1]
    const to = curve[index]
    if (!from || !to || from.x > right) break
    const highest = Math.min(from.y, to.y)
    const lowest = Math.max(from.y, to.y)
    if (lowest > box.top - CURVE_GAP && highest < box.bottom + CURVE_GAP) return true
  }
  return false
}

/** Points along a leader from a label's foot to its place on the curve; none for one that needs no leader. */
function leader(anchor: Point, x: number, bottom: number): Point[] {
  const low = bottom > anchor.y
  if (low || !isMoved(anchor, x, anchor.y - bottom)) return []
  const steps = 14
  return Array.from({ length: steps + 1 }, (_, index) => ({
    x: x + ((anchor.x - x) * index) / steps,
    y: bottom + 2 + ((anchor.y - 9 - bottom - 2) * index) / steps,
  }))
}

/** Whether a label stands so far from its point that a leader has to tie them together. */
function isMoved(anchor: Point, x: number, gap: number): boolean {
  return gap > 20 || Math.abs(x - anchor.x) >= ASIDE
}

/** Whether a high stands beside its point at the same height, where no leader shows whose it is. */
function isAstray(anchor: Point, x: number, bottom: number): boolean {
  const gap = anchor.y - bottom
  return gap > 0 && gap <= 14 && Math.abs(x - anchor.x) >= ASIDE
}

function holds(box: Box, { x, y }: Point): boolean {
  return x > box.left - 2 && x < box.right + 2 && y > box.top && y < box.bottom
}

/** From here on a label is beside its point, not over it [px]. */
const ASIDE = 28

const sideways = [0, -14, 14, -28, 28, -44, 44, -64, 64, -86, 86, -110, 110]

interface Room {
  width: number
  top: number
  bottom: number
}

/**
 * Lows: fixed under their points, placed first and from the slowest up. One that would touch
 * another gives up its place, then moves down and sideways.
 */
export function placeLows(
  wanted: Wanted[],
  room: Room,
  curve: Point[],
  size: LabelSize,
): Placement {
  const boxes: Box[] = []
  const placed: Placed[] = []
  const lost: string[] = []
  for (const label of [...wanted].sort((a, b) => b.weight - a.weight)) {
    const found = firstFit(
      label,
      boxes,
      room,
      curve,
      size,
      (step) => label.anchor.y + 9 + step * 6,
      size.place === null ? 14 : 8,
    )
    if (found) take(found, label, placed, boxes)
    else lost.push(label.id)
  }
  return { placed, lost }
}

/**
 * Highs: over their points, by largest speed drop; moved up, then sideways, with a leader. Should
 * one find no room the others make it: it chooses first, and in the end all drop their places.
 */
export function placeHighs(
  wanted: Wanted[],
  taken: Box[],
  room: Room,
  curve: Point[],
  size: LabelSize,
): Placement {
  let order = [...wanted].sort((a, b) => b.weight - a.weight)
  let best: Placement | null = null
  for (let round = 0; round < ROUNDS; round += 1) {
    const found = highsInOrder(order, taken, room, curve, size, round === ROUNDS - 1)
    if (best === null || found.lost.length < best.lost.length) best = found
    if (best.lost.length === 0) break
    const first = new Set(found.lost)
    order = [...order].sort((a, b) => Number(first.has(b.id)) - Number(first.has(a.id)))
  }
  return best ?? { placed: [], lost: [] }
}

const ROUNDS = 4

function highsInOrder(
  order: Wanted[],
  taken: Box[],
  room: Room,
  curve: Point[],
  size: LabelSize,
  bare: boolean,
): Placement {
  const boxes = [...taken]
  const leaders: Point[] = []
  const placed: Placed[] = []
  const lost: string[] = []
  for (const label of order) {
    const height = size.figure + (size.place ?? 0)
    const found = firstFit(
      label,
      boxes,
      room,
      curve,
      size,
      (step) => label.anchor.y - 11 - height - step * 6,
      26,
      leaders,
      bare,
    )
    if (found) {
      take(found, label, placed, boxes)
      leaders.push(...leader(label.anchor, found.x, found.box.bottom))
    } else lost.push(label.id)
  }
  return { placed, lost }
}

/** Boxes that placed labels take up. */
export function boxesOf(placement: Placement, wanted: Wanted[], size: LabelSize): Box[] {
  return placement.placed.flatMap((label) => {
    const found = wanted.find((other) => other.id === label.id)
    return found ? [labelBox(found, label.x, label.top, label.withPlace, size)] : []
  })
}

function labelBox(label: Wanted, x: number, top: number, withPlace: boolean, size: LabelSize): Box {
  const width = withPlace ? Math.max(label.figureWidth, label.placeWidth) : label.figureWidth
  return boxOf(x, top, width, size.figure + (withPlace ? (size.place ?? 0) : 0))
}

interface Fit {
  x: number
  top: number
  withPlace: boolean
  box: Box
}

function firstFit(
  label: Wanted,
  boxes: Box[],
  room: Room,
  curve: Point[],
  size: LabelSize,
  topAt: (step: number) => number,
  steps: number,
  leaders: Point[] = [],
  bare = false,
): Fit | null {
  const places = size.place === null || bare ? [false] : [true, false]
  // Rather a leader across a label than a label lost.
  for (const crossing of [false, true]) {
    for (const withPlace of places) {
      for (const shift of sideways) {
        for (let step = 0; step < steps; step += 1) {
          const top =
            topAt(step) + (withPlace ? 0 : topAt(0) < label.anchor.y ? (size.place ?? 0) : 0)
          const width = withPlace
            ? Math.max(label.figureWidth, label.placeWidth)
            : label.figureWidth
          const x = Math.min(Math.max(label.anchor.x + shift, width / 2), room.width - width / 2)
          const box = labelBox(label, x, top, withPlace, size)
          if (box.top < room.top || box.bottom > room.bottom) continue
          if (boxes.some((other) => overlap(box, other, LABEL_GAP))) continue
          if (touchesCurve(box, curve)) continue
          if (!crossing && isAstray(label.anchor, x, box.bottom)) continue
          if (!crossing && crosses(label, box, x, boxes, leaders)) continue
          return { x, top, withPlace, box }
        }
      }
    }
  }
  return null
}

/** Whether a label would stand on another's leader, or its own leader cross another label. */
function crosses(label: Wanted, box: Box, x: number, boxes: Box[], leaders: Point[]): boolean {
  if (leaders.some((point) => holds(box, point))) return true
  const own = leader(label.anchor, x, box.bottom)
  return boxes.some((other) => own.some((point) => holds(other, point)))
}

function take(found: Fit, label: Wanted, placed: Placed[], boxes: Box[]): void {
  boxes.push(found.box)
  const low = found.top > label.anchor.y
  const gap = low ? found.top - label.anchor.y : label.anchor.y - found.box.bottom
  placed.push({
    id: label.id,
    x: found.x,
    top: found.top,
    anchor: label.anchor,
    withPlace: found.withPlace,
    moved: isMoved(label.anchor, found.x, gap),
  })
}
