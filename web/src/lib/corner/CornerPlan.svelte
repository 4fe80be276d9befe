<script lang="ts">
  import type { CornerMap } from '../api/client'
  import { pathOf, type Point } from '../curve/geometry'
  import { textWidth } from '../curve/faces.svelte'
  import { whole } from '../parts/format'
  import type { View } from '../state/view.svelte'

  /** A corner to scale, its approach running up the page: edges, line, braking, boards, marks. */
  let { map, view, width, height }: { map: CornerMap; view: View; width: number; height: number } =
    $props()

  const MARGIN = 16
  const units = $derived(view.units)
  type Way = { x_m: number[]; y_m: number[] }
  const scale = $derived.by(() => {
    const ways: Way[] = [map.line, ...[map.left, map.right].filter((way) => way != null)]
    const xs = [...ways.flatMap((way) => way.x_m), ...map.boards.map((board) => board.x_m)]
    const ys = [...ways.flatMap((way) => way.y_m), ...map.boards.map((board) => board.y_m)]
    const [left, right] = [Math.min(...xs), Math.max(...xs)]
    const [bottom, top] = [Math.min(...ys), Math.max(...ys)]
    const per = Math.min(
      (width - 2 * MARGIN) / Math.max(right - left, 1),
      (height - 2 * MARGIN) / Math.max(top - bottom, 1),
    )
    const offset = (width - (right - left) * per) / 2
    return {
      per,
      x: (m: number) => offset + (m - left) * per,
      y: (m: number) => MARGIN + (top - m) * per,
    }
  })
  const drawn = (way: Way): Point[] =>
    way.x_m.map((x, index) => ({ x: scale.x(x), y: scale.y(way.y_m[index] ?? 0) }))
  /** Cross-strokes of the braking, every few pixels along it. */
  const strokes = $derived.by(() => {
    if (!map.braking) return ''
    const line = drawn(map.braking)
    let path = ''
    let last: Point | null = null
    line.forEach((point, index) => {
      const next = line[index + 1]
      if (!next) return
      if (last && Math.hypot(point.x - last.x, point.y - last.y) < 4) return
      last = point
      const [dx, dy] = [next.x - point.x, next.y - point.y]
      const long = Math.hypot(dx, dy) || 1
      const [nx, ny] = [(-dy / long) * 4.5, (dx / long) * 4.5]
      path += `M${(point.x - nx).toFixed(1)} ${(point.y - ny).toFixed(1)}L${(point.x + nx).toFixed(1)} ${(point.y + ny).toFixed(1)}`
    })
    return path
  })
  const DOTS = ['turn-in', 'slowest', 'throttle', 'apex']
  const barM = $derived(
    units.read([20, 50, 100].find((m) => m * scale.per * 0.9 > 30) ?? 100, 'length'),
  )
  const label = $derived(
    `Plan of the corner: ${map.marks.map((mark) => mark.what).join(', ')} along the line, ${map.boards.map((board) => board.label).join(', ') || 'no board'} beside the road`,
  )
</script>

<svg {width} {height} viewBox="0 0 {width} {height}" role="img" aria-label={label}>
  {#each [map.left, map.right] as edge, index (index)}
    {#if edge}<path
        d={pathOf(drawn(edge))}
        fill="none"
        stroke="var(--rule)"
        stroke-width="1.4"
      />{/if}
  {/each}
  {#each map.sides as side, index (index)}
    <path
      d={pathOf(drawn(side.way))}
      fill="none"
      stroke="var(--ink)"
      stroke-width={side.kind === 'wall' ? 3 : 2.4}
      stroke-dasharray={side.kind === 'kerb' ? '4 3' : side.kind === 'dust' ? '1 3' : undefined}
    >
      <title>{side.kind}{side.kind === 'kerb' ? `: ${side.use.replace('_', ' ')}` : ''}</title>
    </path>
  {/each}
  <path d={pathOf(drawn(map.line))} fill="none" stroke="var(--ink)" stroke-width="2" />
  <path d={strokes} stroke="var(--ember)" stroke-width="1.5" />
  {#each map.boards as board (board.label + board.at_m)}
    {@const [x, y] = [scale.x(board.x_m), scale.y(board.y_m)]}
    {@const wide = Math.max(textWidth(board.label, 'figure', 12) + 8, 18)}
    {@const out = board.x_m < board.line_x_m ? -1 : 1}
    {@const left = Math.min(Math.max(out < 0 ? x - wide : x, 0), width - wide)}
    <path
      d="M{x} {y}L{scale.x(board.line_x_m)} {scale.y(board.line_y_m)}"
      stroke="var(--ink)"
      stroke-width={board.chosen ? 1.6 : 0.8}
    />
    <rect
      x={left}
      y={y - 8}
      width={wide}
      height="16"
      fill={board.chosen ? 'var(--ink)' : 'var(--leaf)'}
      stroke="var(--ink)"
    />
    <text
      x={left + wide / 2}
      y={y + 4}
      text-anchor="middle"
      class="figure"
      font-size="12"
      fill={board.chosen ? 'var(--paper)' : 'var(--ink)'}>{board.label}</text
    >
  {/each}
  {#each map.marks.filter((mark) => DOTS.includes(mark.what)) as mark (mark.what)}
    {@const [x, y] = [scale.x(mark.x_m), scale.y(mark.y_m)]}
    {#if mark.what === 'throttle'}
      <path d="M{x - 4} {y - 5}v10l8 -5z" fill="var(--cool)" />
    {:else if mark.what === 'apex'}
      <path d="M{x - 4} {y}h8M{x} {y - 4}v8" stroke="var(--ink)" stroke-width="1.6" />
    {:else}
      <circle
        cx={x}
        cy={y}
        r={mark.what === 'slowest' ? 4.5 : 3.4}
        fill="var(--leaf)"
        stroke="var(--ink)"
        stroke-width="2"
      />
    {/if}
  {/each}
  <path d="M{MARGIN / 2} {height - 7}h{barM * scale.per}" stroke="var(--ink)" stroke-width="1.6" />
  <text x={MARGIN / 2 + barM * scale.per + 5} y={height - 3} font-size="13" fill="var(--ink-2)"
    >{whole(units.length(barM))} {units.lengthUnit}</text
  >
</svg>
