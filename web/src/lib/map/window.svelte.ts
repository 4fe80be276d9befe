/** A part of the world shown: its middle east and south of the origin [m], and pixels a metre. */
export interface Window {
  x: number
  y: number
  scale: number
}

export interface Way {
  x_m: number[]
  y_m: number[]
}

export interface Point {
  x: number
  y: number
}

interface Given {
  ways: Way[]
  northDeg: number
  width: number
  height: number
  /** Room for names around the whole [px]. */
  margin: Point
  /** What is shown while nobody has moved the map; the whole where null. */
  focus: Way | null
  /** What a first zoom goes towards, where not the middle of the picture. */
  home?: Point | null
}

const CLOSEST = 60

/** A map that is moved and zoomed, north up; places are given along the road's first heading. */
export class MapWindow {
  /** Where a person has gone. */
  moved = $state.raw<Window | null>(null)
  readonly #given: () => Given
  readonly #turn = $derived.by(() => ((90 - this.#given().northDeg) * Math.PI) / 180)
  readonly whole = $derived.by<Window>(() => {
    const { ways, width, height, margin } = this.#given()
    const box = this.#box(ways)
    return {
      x: (box.left + box.right) / 2,
      y: (box.top + box.bottom) / 2,
      scale: Math.min(
        (width - 2 * margin.x) / Math.max(box.right - box.left, 1),
        (height - 2 * margin.y) / Math.max(box.bottom - box.top, 1),
      ),
    }
  })
  readonly #focused = $derived.by<Window | null>(() => {
    const { focus, width, height } = this.#given()
    if (!focus || focus.x_m.length === 0) return null
    const box = this.#box([focus])
    return {
      x: (box.left + box.right) / 2,
      y: (box.top + box.bottom) / 2,
      scale: Math.min(
        (width - 80) / (box.right - box.left + 14),
        (height - 50) / (box.bottom - box.top + 14),
      ),
    }
  })
  readonly now = $derived.by<Window>(() => this.moved ?? this.#focused ?? this.whole)

  constructor(given: () => Given) {
    this.#given = given
  }

  east = (x: number, y: number): number => x * Math.cos(this.#turn) - y * Math.sin(this.#turn)
  south = (x: number, y: number): number => -(x * Math.sin(this.#turn) + y * Math.cos(this.#turn))
  px = (x: number, y: number): number =>
    this.#given().width / 2 + (this.east(x, y) - this.now.x) * this.now.scale
  py = (x: number, y: number): number =>
    this.#given().height / 2 + (this.south(x, y) - this.now.y) * this.now.scale

  /** A way as an SVG path; points closer than a pixel only cost time. */
  path(way: Way): string {
    let path = ''
    let [lastX, lastY] = [Infinity, Infinity]
    way.x_m.forEach((x, index) => {
      const y = way.y_m[index] ?? 0
      const [across, down] = [this.px(x, y), this.py(x, y)]
      if (Math.abs(across - lastX) + Math.abs(down - lastY) < 0.9) return
      ;[lastX, lastY] = [across, down]
      path += `${path === '' ? 'M' : 'L'}${across.toFixed(1)} ${down.toFixed(1)}`
    })
    return path
  }

  /** The road's surface between its two edges. */
  surface(left: Way, right: Way): string {
    const back = { x_m: [...right.x_m].reverse(), y_m: [...right.y_m].reverse() }
    return `${this.path(left)}${this.path(back).replace('M', 'L')}Z`
  }

  /** Index of the point of a way nearest to a place in the picture, and on which side it lies. */
  nearest(way: Way, at: Point): { index: number; left: boolean } {
    let [best, least] = [0, Infinity]
    way.x_m.forEach((x, index) => {
      const y = way.y_m[index] ?? 0
      const off = (this.px(x, y) - at.x) ** 2 + (this.py(x, y) - at.y) ** 2
      if (off < least) [best, least] = [index, off]
    })
    const from = Math.max(best - 1, 0)
    const to = Math.min(best + 1, way.x_m.length - 1)
    const place = (index: number): Point => {
      const [x, y] = [way.x_m[index] ?? 0, way.y_m[index] ?? 0]
      return { x: this.px(x, y), y: this.py(x, y) }
    }
    const [a, b] = [place(from), place(to)]
    // In a picture y points down, so a point to the left of the way has a negative product.
    const cross = (b.x - a.x) * (at.y - a.y) - (b.y - a.y) * (at.x - a.x)
    return { index: best, left: cross < 0 }
  }

  zoom(by: number, at?: Point): void {
    const { width, height, home } = this.#given()
    const { x, y } = at ?? { x: width / 2, y: height / 2 }
    let before = this.now
    if (!at && home && this.moved === null && by > 1)
      before = { ...before, x: this.east(home.x, home.y), y: this.south(home.x, home.y) }
    const scale = Math.min(Math.max(before.scale * by, this.whole.scale * 0.8), CLOSEST)
    const off = 1 / before.scale - 1 / scale
    this.moved = {
      scale,
      x: before.x + (x - width / 2) * off,
      y: before.y + (y - height / 2) * off,
    }
  }
  shift(dx: number, dy: number): void {
    const before = this.now
    this.moved = { ...before, x: before.x + dx / before.scale, y: before.y + dy / before.scale }
  }
  showWhole(): void {
    this.moved = this.whole
  }

  /** Plus, minus, arrows and 0 move the map; true where a key did. */
  key(event: KeyboardEvent): boolean {
    if (event.ctrlKey || event.metaKey || event.altKey) return false
    const steps: Record<string, () => void> = {
      '+': () => this.zoom(1.4),
      '=': () => this.zoom(1.4),
      '-': () => this.zoom(1 / 1.4),
      '0': () => this.showWhole(),
      ArrowLeft: () => this.shift(-60, 0),
      ArrowRight: () => this.shift(60, 0),
      ArrowUp: () => this.shift(0, -60),
      ArrowDown: () => this.shift(0, 60),
    }
    const step = steps[event.key]
    if (!step) return false
    step()
    event.preventDefault()
    event.stopPropagation()
    return true
  }
  wheel(event: WheelEvent): void {
    event.preventDefault()
    this.zoom(event.deltaY < 0 ? 1.25 : 0.8, pointIn(event))
  }

  #box(ways: Way[]): { left: number; right: number; top: number; bottom: number } {
    let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity]
    for (const way of ways)
      way.x_m.forEach((x, index) => {
        const y = way.y_m[index] ?? 0
        left = Math.min(left, this.east(x, y))
        right = Math.max(right, this.east(x, y))
        top = Math.min(top, this.south(x, y))
        bottom = Math.max(bottom, this.south(x, y))
      })
    return { left, right, top, bottom }
  }
}

/** Where a pointer is inside the picture that an event belongs to. */
export function pointIn(event: MouseEvent): Point {
  const element = event.currentTarget as Element
  const picture = element.closest('svg') ?? element
  const from = picture.getBoundingClientRect()
  return { x: event.clientX - from.left, y: event.clientY - from.top }
}
