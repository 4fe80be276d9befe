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

export const FIGURE_HEIGHT = 19
export const PLACE_HEIGHT = 16
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

/** Whether a box comes within 3 px of the curve (points in order of x). */
export function touchesCurve(box: Box, curve: Point[]): boolean {
  const left = box.left - CURVE_GAP
  const right = box.right + CURVE_GAP
  for (let index = 1; index < curve.length; index += 1) {
    const from = curve[index - 1]
    const to = curve[index]
    if (!from || !to || to.x < left || from.x > right) continue
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

function isMoved(anchor: Point, x: number, gap: number): boolean {
  return Math.abs(x - anchor.x) >= 8 || gap > 20
}

function holds(box: Box, { x, y }: Point): boolean {
  return x > box.left - 2 && x < box.right + 2 && y > box.top && y < box.bottom
}

const sideways = [0, -14, 14, -28, 28, -44, 44, -64, 64, -86, 86]

interface Room {
  width: number
  top: number
  bottom: number
}

/**
 * Lows: fixed under their points, placed first and from the slowest up. One that would touch
 * another gives up its place, then moves down and sideways.
 */
export function placeLows(wanted: Wanted[], room: Room, curve: Point[]): Placement {
  const boxes: Box[] = []
  const placed: Placed[] = []
  const lost: string[] = []
  for (const label of [...wanted].sort((a, b) => b.weight - a.weight)) {
    const found = firstFit(label, boxes, room, curve, (step) => label.anchor.y + 9 + step * 6, 8)
    if (found) take(found, label, placed, boxes)
    else lost.push(label.id)
  }
  return { placed, lost }
}

/** Highs: over their points, by largest speed drop; moved up, then sideways, with a leader. */
export function placeHighs(wanted: Wanted[], taken: Box[], room: Room, curve: Point[]): Placement {
  const boxes = [...taken]
  const leaders: Point[] = []
  const placed: Placed[] = []
  const lost: string[] = []
  for (const label of [...wanted].sort((a, b) => b.weight - a.weight)) {
    const height = FIGURE_HEIGHT + PLACE_HEIGHT
    const found = firstFit(
      label,
      boxes,
      room,
      curve,
      (step) => label.anchor.y - 11 - height - step * 6,
      26,
      leaders,
    )
    if (found) {
      take(found, label, placed, boxes)
      leaders.push(...leader(label.anchor, found.x, found.box.bottom))
    } else lost.push(label.id)
  }
  return { placed, lost }
}

/** Boxes that placed labels take up. */
export function boxesOf(placement: Placement, wanted: Wanted[]): Box[] {
  return placement.placed.flatMap((label) => {
    const found = wanted.find((other) => other.id === label.id)
    return found ? [labelBox(found, label.x, label.top, label.withPlace)] : []
  })
}

function labelBox(label: Wanted, x: number, top: number, withPlace: boolean): Box {
  const width = withPlace ? Math.max(label.figureWidth, label.placeWidth) : label.figureWidth
  return boxOf(x, top, width, FIGURE_HEIGHT + (withPlace ? PLACE_HEIGHT : 0))
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
  topAt: (step: number) => number,
  steps: number,
  leaders: Point[] = [],
): Fit | null {
  for (const withPlace of [true, false]) {
    for (const shift of sideways) {
      for (let step = 0; step < steps; step += 1) {
        const top = topAt(step) + (withPlace ? 0 : topAt(0) < label.anchor.y ? PLACE_HEIGHT : 0)
        const width = withPlace ? Math.max(label.figureWidth, label.placeWidth) : label.figureWidth
        const x = Math.min(Math.max(label.anchor.x + shift, width / 2), room.width - width / 2)
        const box = labelBox(label, x, top, withPlace)
        if (box.top < room.top || box.bottom > room.bottom) continue
        if (boxes.some((other) => overlap(box, other, LABEL_GAP))) continue
        if (touchesCurve(box, curve)) continue
        // No label on another's leader, and no leader across another's label.
        if (leaders.some((point) => holds(box, point))) continue
        const own = leader(label.anchor, x, box.bottom)
        if (boxes.some((other) => own.some((point) => holds(other, point)))) continue
        return { x, top, withPlace, box }
      }
    }
  }
  return null
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
