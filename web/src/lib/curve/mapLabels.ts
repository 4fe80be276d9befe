import type { Point } from './geometry'
import { overlap, type Box } from './labels'

/** A label wanted beside a point of the road. */
export interface MapLabel {
  number: number
  anchor: Point
  /** Unit vector away from the inside of the corner. */
  outside: Point
  width: number
  height: number
}

export interface PlacedMapLabel {
  number: number
  box: Box
  x: number
  y: number
  anchor: Point
  far: boolean
}

const GAP = 3
const ROAD_GAP = 4
const TURNS = [0, 20, -20, 45, -45, 70, -70, 100, -100, 135, -135, 160, -160, 180]
const REACHES = [9, 13, 18, 24, 32, 42, 54, 70, 90, 115]

function touchesRoad(box: Box, road: Point[]): boolean {
  return road.some(
    ({ x, y }) =>
      x > box.left - ROAD_GAP &&
      x < box.right + ROAD_GAP &&
      y > box.top - ROAD_GAP &&
      y < box.bottom + ROAD_GAP,
  )
}

/** Points along the road about as far apart as the gap that labels keep from it. */
export function dense(line: Point[]): Point[] {
  const points: Point[] = []
  let last = line[0]
  if (!last) return points
  points.push(last)
  for (const point of line) {
    const apart = Math.hypot(point.x - last.x, point.y - last.y)
    if (apart < 0.5 * ROAD_GAP) continue
    const count = Math.ceil(apart / ROAD_GAP)
    for (let step = 1; step <= count; step += 1) {
      points.push({
        x: last.x + ((point.x - last.x) * step) / count,
        y: last.y + ((point.y - last.y) * step) / count,
      })
    }
    last = point
  }
  return points
}

/**
 * Labels outside the road, near their corners, clear of the road, of what is `taken` and of each
 * other. Returns those placed, and the numbers of those that found no room.
 */
export function placeMapLabels(
  wanted: MapLabel[],
  road: Point[],
  room: { width: number; height: number },
  taken: Box[] = [],
): { placed: PlacedMapLabel[]; lost: number[] } {
  const placed: PlacedMapLabel[] = []
  const lost: number[] = []
  for (const label of wanted) {
    const found = firstRoom(label, [...taken, ...placed.map((other) => other.box)], road, room)
    if (found) placed.push(found)
    else lost.push(label.number)
  }
  return { placed, lost }
}

function firstRoom(
  label: MapLabel,
  taken: Box[],
  road: Point[],
  room: { width: number; height: number },
): PlacedMapLabel | null {
  for (const reach of REACHES) {
    for (const turn of TURNS) {
      const angle = (turn * Math.PI) / 180
      const dx = label.outside.x * Math.cos(angle) - label.outside.y * Math.sin(angle)
      const dy = label.outside.x * Math.sin(angle) + label.outside.y * Math.cos(angle)
      const x = label.anchor.x + dx * (reach + label.width / 2)
      const y = label.anchor.y + dy * (reach + label.height / 2)
      const box = {
        left: x - label.width / 2,
        right: x + label.width / 2,
        top: y - label.height / 2,
        bottom: y + label.height / 2,
      }
      if (box.left < 0 || box.right > room.width || box.top < 0 || box.bottom > room.height)
        continue
      if (taken.some((other) => overlap(box, other, GAP))) continue
      if (touchesRoad(box, road)) continue
      return { number: label.number, box, x, y, anchor: label.anchor, far: reach > 24 }
    }
  }
  return null
}
