<script lang="ts">
  import type { Result } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { indexAt } from '../curve/geometry'

  /** The circuit as driven: braking as cross-strokes, corner numbers outside the road, the wind. */
  let {
    result,
    view,
    northDeg,
    windFromDeg,
    windMs,
    width = 196,
    height = 128,
  }: {
    result: Result
    view: View
    northDeg: number
    windFromDeg: number
    windMs: number
    width?: number
    height?: number
  } = $props()

  const MARGIN = 19
  const trace = $derived(result.trace)

  // The road's first heading points along x; on the map north is up.
  const turn = $derived(((90 - northDeg) * Math.PI) / 180)
  const turned = $derived(
    trace.x_m.map((x, index) => {
      const y = trace.y_m[index] ?? 0
      return {
        x: x * Math.cos(turn) - y * Math.sin(turn),
        y: -(x * Math.sin(turn) + y * Math.cos(turn)),
      }
    }),
  )
  const box = $derived({
    left: Math.min(...turned.map((p) => p.x)),
    right: Math.max(...turned.map((p) => p.x)),
    top: Math.min(...turned.map((p) => p.y)),
    bottom: Math.max(...turned.map((p) => p.y)),
  })
  const scale = $derived(
    Math.min(
      (width - 2 * MARGIN) / Math.max(box.right - box.left, 1),
      (height - 2 * MARGIN) / Math.max(box.bottom - box.top, 1),
    ),
  )
  const line = $derived(
    turned.map((p) => ({
      x: width / 2 + (p.x - (box.left + box.right) / 2) * scale,
      y: height / 2 + (p.y - (box.top + box.bottom) / 2) * scale,
    })),
  )
  const centre = $derived({ x: width / 2, y: height / 2 })

  function normal(index: number): { x: number; y: number } {
    const from = line[Math.max(index - 2, 0)]
    const to = line[Math.min(index + 2, line.length - 1)]
    if (!from || !to) return { x: 0, y: 0 }
    const length = Math.hypot(to.x - from.x, to.y - from.y) || 1
    return { x: -(to.y - from.y) / length, y: (to.x - from.x) / length }
  }

  /** A cross-stroke every few pixels of braking. */
  const strokes = $derived.by(() => {
    const found: string[] = []
    let travelled = 99
    for (let index = 1; index < line.length; index += 1) {
      const from = line[index - 1]
      const to = line[index]
      if (!from || !to) continue
      if ((trace.brake_pct[index] ?? 0) <= 0) {
        travelled = 99
        continue
      }
      travelled += Math.hypot(to.x - from.x, to.y - from.y)
      if (travelled < 3.2) continue
      travelled = 0
      const n = normal(index)
      found.push(
        `M${(to.x - n.x * 5).toFixed(1)} ${(to.y - n.y * 5).toFixed(1)}l${(n.x * 10).toFixed(1)} ${(n.y * 10).toFixed(1)}`,
      )
    }
    return found.join('')
  })

  /** Numbers stand outside the road; one that would touch another or the road moves on. */
  const numbers = $derived.by(() => {
    const placed: { number: number; x: number; y: number }[] = []
    result.corners.forEach((corner, number) => {
      const index = indexAt(trace, corner.apex_at_m)
      const at = line[index] ?? centre
      const n = normal(index)
      // Left turns bend towards -n on this map, whose y points down; outside is the other side.
      const side = corner.direction === 'left' ? 1 : -1
      let best = { number, x: at.x + n.x * 13 * side, y: at.y + n.y * 13 * side }
      let most = -Infinity
      for (const reach of [13, -13, 19, -19, 26, -26]) {
        for (const along of [0, -7, 7]) {
          const x = at.x + n.x * reach * side + n.y * along
          const y = at.y + n.y * reach * side - n.x * along
          if (x < 8 || x > width - 8 || y < 8 || y > height - 8) continue
          const toOthers = Math.min(99, ...placed.map((p) => Math.hypot(p.x - x, p.y - y))) - 17
          const toRoad = Math.min(...line.map((p) => Math.hypot(p.x - x, p.y - y))) - 9
          const room =
            Math.min(toOthers, toRoad, 0) - Math.abs(reach) / 1000 - (reach < 0 ? 0.01 : 0)
          if (room > most) {
            most = room
            best = { number, x, y }
          }
        }
      }
      placed.push(best)
    })
    return placed
  })
  const cursor = $derived(view.cursorM === null ? null : line[indexAt(trace, view.cursorM)])
  const start = $derived(line[0] ?? centre)
  const startNormal = $derived(normal(0))
</script>

<svg
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  role="group"
  aria-label="Map of the circuit; corners can be chosen on it"
>
  <path
    d={`M${line.map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('L')}`}
    fill="none"
    stroke="var(--ink)"
    stroke-width="2.4"
    stroke-linejoin="round"
  />
  <path d={strokes} stroke="var(--ember)" stroke-width="1.5" />
  <path
    d={`M${start.x - startNormal.x * 6} ${start.y - startNormal.y * 6}l${startNormal.x * 12} ${startNormal.y * 12}`}
    stroke="var(--ink)"
    stroke-width="2.5"
  />
  {#each numbers as mark (mark.number)}
    {@const chosen = view.corner === mark.number}
    <!-- The table offers the same choice to the keyboard. -->
    <g
      class="corner"
      role="presentation"
      onclick={() => view.select(result, mark.number)}
      transform="translate({mark.x} {mark.y})"
    >
      <circle r="9" fill={chosen ? 'var(--ink)' : 'transparent'} />
      <text
        text-anchor="middle"
        dy="4.5"
        font-size="13"
        font-weight="600"
        fill={chosen ? 'var(--paper)' : 'var(--ink)'}>{mark.number + 1}</text
      >
    </g>
  {/each}
  {#if windMs > 0}
    <g transform="translate({width - 22} {height - 14}) rotate({windFromDeg + 180})">
      <path
        d="M0 9V-9M-4 -4L0 -9L4 -4"
        fill="none"
        stroke="var(--ink-2)"
        stroke-width="1.6"
        transform="scale(1)"
      />
    </g>
    <text x={width - 34} y={height - 9} text-anchor="end" font-size="13" fill="var(--ink-2)"
      >wind {windMs}</text
    >
  {/if}
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
</svg>

<style>
  .corner {
    cursor: pointer;
  }
</style>
