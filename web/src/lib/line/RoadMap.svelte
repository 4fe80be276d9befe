<script lang="ts">
  import type { DrawnLine, RoadDrawing } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { dashOf } from './names'

  /**
   * The road to scale with its edges and lines, north up. Zoom with + and − or the wheel, move with
   * the arrows or by dragging, 0 for the whole lap; choosing a corner goes to it.
   */
  let {
    road,
    lines,
    driven,
    other,
    view,
    northDeg,
    closed,
    width,
    height,
  }: {
    road: RoadDrawing
    lines: DrawnLine[]
    driven: DrawnLine
    other: DrawnLine | null
    view: View
    northDeg: number
    closed: boolean
    width: number
    height: number
  } = $props()

  interface Window {
    x: number
    y: number
    /** Pixels a metre. */
    scale: number
  }
  interface Way {
    x_m: number[]
    y_m: number[]
  }

  const turn = $derived(((90 - northDeg) * Math.PI) / 180)
  const cos = $derived(Math.cos(turn))
  const sin = $derived(Math.sin(turn))
  const east = (x: number, y: number): number => x * cos - y * sin
  const south = (x: number, y: number): number => -(x * sin + y * cos)

  const box = $derived.by(() => {
    let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity]
    for (const way of [road.left, road.right])
      way.x_m.forEach((x, index) => {
        const y = way.y_m[index] ?? 0
        left = Math.min(left, east(x, y))
        right = Math.max(right, east(x, y))
        top = Math.min(top, south(x, y))
        bottom = Math.max(bottom, south(x, y))
      })
    return { left, right, top, bottom }
  })
  const whole = $derived<Window>({
    x: (box.left + box.right) / 2,
    y: (box.top + box.bottom) / 2,
    scale: Math.min(
      (width - 110) / Math.max(box.right - box.left, 1),
      (height - 70) / Math.max(box.bottom - box.top, 1),
    ),
  })
  /** Where a person has gone; without it the chosen corner, or the whole lap. */
  let moved = $state.raw<Window | null>(null)
  const corner = $derived(view.corner === null ? null : (road.corners[view.corner] ?? null))
  const atCorner = $derived.by<Window | null>(() => {
    if (!corner) return null
    const length = road.road_at_m[road.road_at_m.length - 1] ?? 1
    let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity]
    road.road_at_m.forEach((at, index) => {
      const from = corner.begins_at_m - 40
      const reach = corner.ends_at_m + 40 - from
      const inside = closed
        ? (((at - from) % length) + length) % length <= reach
        : at >= from && at <= from + reach
      if (!inside) return
      const x = road.middle.x_m[index] ?? 0
      const y = road.middle.y_m[index] ?? 0
      left = Math.min(left, east(x, y))
      right = Math.max(right, east(x, y))
      top = Math.min(top, south(x, y))
      bottom = Math.max(bottom, south(x, y))
    })
    return {
      x: (left + right) / 2,
      y: (top + bottom) / 2,
      scale: Math.min((width - 80) / (right - left + 14), (height - 50) / (bottom - top + 14)),
    }
  })
  const now = $derived(moved ?? atCorner ?? whole)

  let followed: number | null = null
  $effect(() => {
    if (view.corner === followed) return
    followed = view.corner
    moved = null
  })

  const px = (x: number, y: number): number => width / 2 + (east(x, y) - now.x) * now.scale
  const py = (x: number, y: number): number => height / 2 + (south(x, y) - now.y) * now.scale

  function points(way: Way): string {
    let path = ''
    let [lastX, lastY] = [Infinity, Infinity]
    way.x_m.forEach((x, index) => {
      const y = way.y_m[index] ?? 0
      const [across, down] = [px(x, y), py(x, y)]
      // Points closer than a pixel or far outside only cost time.
      if (Math.abs(across - lastX) + Math.abs(down - lastY) < 0.9) return
      ;[lastX, lastY] = [across, down]
      path += `${path === '' ? 'M' : 'L'}${across.toFixed(1)} ${down.toFixed(1)}`
    })
    return path
  }
  const surface = $derived.by(() => {
    const back: Way = {
      x_m: [...road.right.x_m].reverse(),
      y_m: [...road.right.y_m].reverse(),
    }
    return `${points(road.left)}${points(back).replace('M', 'L')}Z`
  })
  const EDGE = { kerb: 'kerb', dust: 'dust', wall: 'wall' } as const

  function zoom(by: number, at: { x: number; y: number } = { x: width / 2, y: height / 2 }): void {
    const scale = Math.min(Math.max(now.scale * by, whole.scale * 0.8), 60)
    const held = {
      x: now.x + (at.x - width / 2) / now.scale,
      y: now.y + (at.y - height / 2) / now.scale,
    }
    moved = {
      scale,
      x: held.x - (at.x - width / 2) / scale,
      y: held.y - (at.y - height / 2) / scale,
    }
  }
  function shift(dx: number, dy: number): void {
    moved = { ...now, x: now.x + dx / now.scale, y: now.y + dy / now.scale }
  }
  function showWhole(): void {
    moved = whole
  }

  function keydown(event: KeyboardEvent): void {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const steps: Record<string, () => void> = {
      '+': () => zoom(1.4),
      '=': () => zoom(1.4),
      '-': () => zoom(1 / 1.4),
      '0': showWhole,
      ArrowLeft: () => shift(-60, 0),
      ArrowRight: () => shift(60, 0),
      ArrowUp: () => shift(0, -60),
      ArrowDown: () => shift(0, 60),
    }
    const step = steps[event.key]
    if (!step) return
    step()
    event.preventDefault()
    event.stopPropagation()
  }
  let dragged: { x: number; y: number } | null = null
  function wheel(event: WheelEvent): void {
    event.preventDefault()
    const from = (event.currentTarget as Element).getBoundingClientRect()
    zoom(event.deltaY < 0 ? 1.25 : 0.8, {
      x: event.clientX - from.left,
      y: event.clientY - from.top,
    })
  }
  function move(event: PointerEvent): void {
    if (!dragged) return
    shift(dragged.x - event.clientX, dragged.y - event.clientY)
    dragged = { x: event.clientX, y: event.clientY }
  }

  /** A bar of a round number of metres. */
  const bar = $derived.by(() => {
    const room = 110 / now.scale
    const metres = [500, 200, 100, 50, 20, 10, 5].find((one) => one <= room) ?? 2
    return { metres, px: metres * now.scale }
  })
  const cursor = $derived.by(() => {
    if (view.cursorM === null) return null
    // The cursor is a place along the driven lap.
    const share = view.cursorM / driven.length_m
    const index = Math.round(share * (driven.way.x_m.length - 1))
    const x = driven.way.x_m[index] ?? 0
    const y = driven.way.y_m[index] ?? 0
    return { x: px(x, y), y: py(x, y) }
  })
  const names = $derived(
    road.corners.map((one, number) => {
      const off = 13 + 8 * now.scale
      const [outX, outY] = [east(one.out_x, one.out_y), south(one.out_x, one.out_y)]
      return {
        number,
        name: one.name,
        anchor:
          now.scale > 0.9 ? (outX > 0.3 ? 'start' : outX < -0.3 ? 'end' : 'middle') : 'middle',
        x: px(one.x_m, one.y_m) + outX * off,
        y: py(one.x_m, one.y_m) + outY * off + 5,
      }
    }),
  )
  const drawn = $derived(
    lines.filter((line) => line.kind === driven.kind || line.kind === other?.kind),
  )
</script>

<div class="map">
  <div class="tools" role="toolbar" aria-label="Map">
    <button onclick={() => zoom(1.4)} aria-label="Closer">+</button>
    <button onclick={() => zoom(1 / 1.4)} aria-label="Farther">−</button>
    <button onclick={showWhole}>whole lap</button>
  </div>
  <!-- The map itself takes the arrow keys and the wheel; the table beside offers every choice. -->
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <svg
    {width}
    {height}
    viewBox="0 0 {width} {height}"
    role="img"
    aria-label="The road to scale with its lines; plus, minus, arrows and 0 move the map"
    data-testid="road-map"
    data-scale={now.scale.toFixed(3)}
    tabindex="0"
    onkeydown={keydown}
    onwheel={wheel}
    onpointerdown={(event) => {
      dragged = { x: event.clientX, y: event.clientY }
      event.currentTarget.setPointerCapture(event.pointerId)
    }}
    onpointermove={move}
    onpointerup={() => (dragged = null)}
  >
    <path d={surface} fill="var(--leaf)" stroke="var(--ink-2)" stroke-width="1" />
    {#if now.scale > 2}
      <path d={points(road.middle)} fill="none" stroke="var(--rule)" stroke-dasharray="1 5" />
    {/if}
    {#each road.edges as edge (edge.number)}
      <path
        d={points(edge.way)}
        class={EDGE[edge.edge.kind]}
        fill="none"
        stroke-width={edge.edge.kind === 'wall'
          ? 3
          : Math.max((edge.edge.width_m ?? 1) * now.scale, 2)}
      />
    {/each}
    {#each drawn as line (line.kind)}
      <path
        data-line={line.kind}
        d={points(line.way)}
        fill="none"
        stroke={line.kind === driven.kind ? 'var(--ink)' : 'var(--ink-2)'}
        stroke-width={line.kind === driven.kind ? 2.4 : 2}
        stroke-dasharray={line.kind === driven.kind ? '' : dashOf(line.kind) || '12 3'}
      />
    {/each}
    {#each names as mark (mark.number)}
      <g
        class="name"
        role="presentation"
        onpointerdown={(event) => event.stopPropagation()}
        onclick={() => {
          moved = null
          view.corner = mark.number
        }}
      >
        <text x={mark.x} y={mark.y} text-anchor={mark.anchor}
          ><tspan font-size="13" font-weight="600">{mark.number + 1}</tspan
          >{#if now.scale > 0.9 || view.corner === mark.number}<tspan
              class="place"
              dx="4"
              font-size="16">{mark.name}</tspan
            >{/if}</text
        >
      </g>
    {/each}
    {#if cursor}
      <circle
        cx={cursor.x}
        cy={cursor.y}
        r="4.5"
        fill="var(--paper)"
        stroke="var(--ink)"
        stroke-width="2"
      />
    {/if}
    <g transform="translate(16 {height - 14})">
      <path d="M0 -4V0H{bar.px}V-4" fill="none" stroke="var(--ink)" />
      <text x={bar.px + 6} y="2" font-size="13" fill="var(--ink-2)"
        >{view.units.system === 'metric'
          ? `${bar.metres} m`
          : `${Math.round(view.units.length(bar.metres))} ${view.units.lengthUnit}`}</text
      >
    </g>
    <path
      d="M{width - 16} 40V14M{width - 21} 21l5 -8l5 8"
      fill="none"
      stroke="var(--ink-2)"
      stroke-width="1.5"
    />
    <text x={width - 16} y="55" text-anchor="middle" font-size="13" fill="var(--ink-2)">N</text>
  </svg>
</div>

<style>
  .map {
    position: relative;
    border-bottom: 1px solid var(--rule);
  }
  svg {
    display: block;
    cursor: grab;
    touch-action: none;
  }
  .tools {
    position: absolute;
    top: 4px;
    left: 4px;
    z-index: 2;
    display: flex;
    gap: 4px;
  }
  .tools button {
    min-width: 26px;
    padding: 0 6px;
    height: 26px;
    border: 1px solid var(--rule);
    background: var(--paper);
    font-size: 14px;
    cursor: pointer;
  }
  .name {
    cursor: pointer;
  }
  .name text {
    fill: var(--ink);
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 3px;
  }
  .kerb {
    stroke: var(--ink);
    stroke-dasharray: 5 5;
  }
  .dust {
    stroke: var(--coast);
    stroke-dasharray: 1 3;
    opacity: 0.7;
  }
  .wall {
    stroke: var(--ink);
  }
</style>
