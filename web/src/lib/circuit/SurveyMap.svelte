<script lang="ts">
  import type { Circuit, EdgeStretch, SurveyedRoad } from '../api/client'
  import type { View } from '../state/view.svelte'
  import EdgeInk from '../map/EdgeInk.svelte'
  import MapFrame from '../map/MapFrame.svelte'
  import { MapWindow, pointIn, type Point, type Way } from '../map/window.svelte'
  import { whole } from '../parts/format'
  import type { CircuitEdits } from './edits.svelte'

  /**
   * The road to scale with what stands beside it: boards and references are dragged along it, and
   * kerbs, dust and walls painted along its edges. The sheets change the same by keys.
   */
  let {
    road,
    circuit,
    lengths,
    view,
    edits,
    painting,
    width,
    height,
  }: {
    road: SurveyedRoad
    circuit: Circuit
    /** Length of every segment [m]. */
    lengths: number[]
    view: View
    edits: CircuitEdits
    /** Whether edges can be painted; else boards are moved. */
    painting: boolean
    width: number
    height: number
  } = $props()

  type Kind = 'boards' | 'references'
  type Brush = EdgeStretch['kind']
  interface Mark {
    kind: Kind
    number: number
    label: string
    corner: string | null
    at_m: number
  }
  interface Stroke {
    fromIndex: number
    toIndex: number
    side: EdgeStretch['side']
  }

  const total = $derived(road.road_at_m[road.road_at_m.length - 1] ?? 1)
  const begins = $derived(
    lengths.map((_, index) => lengths.slice(0, index).reduce((sum, one) => sum + one, 0)),
  )
  /** The chosen part of the road with what leads to it, where the boards stand. */
  const focus = $derived.by<Way | null>(() => {
    if (view.corner === null) return null
    const from = (begins[view.segment] ?? 0) - 170
    const reach = 190 + (lengths[view.segment] ?? 0)
    const inside = road.road_at_m.flatMap((at, index) => {
      const ahead = circuit.closed ? (((at - from) % total) + total) % total : at - from
      return ahead >= 0 && ahead <= reach ? [index] : []
    })
    return {
      x_m: inside.map((index) => road.middle.x_m[index] ?? 0),
      y_m: inside.map((index) => road.middle.y_m[index] ?? 0),
    }
  })
  const map = new MapWindow(() => ({
    ways: [road.left, road.right],
    northDeg: circuit.north_deg ?? 0,
    width,
    height,
    margin: { x: 40, y: 50 },
    focus,
    home: {
      x: road.middle.x_m[indexOf(begins[view.segment] ?? 0)] ?? 0,
      y: road.middle.y_m[indexOf(begins[view.segment] ?? 0)] ?? 0,
    },
  }))
  let followed = -1
  $effect(() => {
    if (view.segment === followed) return
    followed = view.segment
    map.moved = null
  })

  function indexOf(at_m: number): number {
    const index = road.road_at_m.findIndex((one) => one >= at_m)
    return index < 0 ? road.road_at_m.length - 1 : index
  }
  const marks = $derived(
    (['boards', 'references'] as const).flatMap((kind) =>
      (circuit[kind] ?? []).map((mark, number): Mark => ({
        kind,
        number,
        label: mark.label,
        corner: mark.corner ?? null,
        at_m: mark.at_m,
      })),
    ),
  )
  let pulled = $state.raw<{ mark: Mark; at_m: number } | null>(null)

  /** A place beside the right edge, so many pixels off it. */
  function beside(at_m: number, px: number): Point & { away: Point } {
    const index = indexOf(at_m)
    const [mx, my] = [road.middle.x_m[index] ?? 0, road.middle.y_m[index] ?? 0]
    const [rx, ry] = [road.right.x_m[index] ?? 0, road.right.y_m[index] ?? 0]
    const at = { x: map.px(rx, ry), y: map.py(rx, ry) }
    const middle = { x: map.px(mx, my), y: map.py(mx, my) }
    const off = Math.hypot(at.x - middle.x, at.y - middle.y) || 1
    const away = { x: (at.x - middle.x) / off, y: (at.y - middle.y) / off }
    return { x: at.x + away.x * px, y: at.y + away.y * px, away }
  }
  const shownAt = (mark: Mark): number =>
    pulled?.mark.kind === mark.kind && pulled.mark.number === mark.number ? pulled.at_m : mark.at_m
  const readable = $derived(map.now.scale > 0.6)
  const size = $derived(readable ? 5 : 3.2)
  /** Across the road, where the lap begins and where sectors end. */
  function across(at_m: number): string {
    const index = indexOf(at_m)
    const [a, b] = [road.left, road.right].map((way) => {
      const [x, y] = [way.x_m[index] ?? 0, way.y_m[index] ?? 0]
      return `${map.px(x, y).toFixed(1)} ${map.py(x, y).toFixed(1)}`
    })
    return `M${a}L${b}`
  }

  function pull(event: PointerEvent, mark: Mark): void {
    event.stopPropagation()
    if (!pulled) return
    const { index } = map.nearest(road.middle, pointIn(event))
    pulled = { mark, at_m: Math.round((road.road_at_m[index] ?? 0) * 10) / 10 }
  }
  async function letGo(event: PointerEvent): Promise<void> {
    event.stopPropagation()
    const moved = pulled
    if (moved && moved.at_m !== moved.mark.at_m) {
      const { kind, number, label, corner } = moved.mark
      await edits.make({ op: 'set_mark', kind, number, label, corner, at_m: moved.at_m })
    }
    pulled = null
  }

  const BRUSHES: Brush[] = ['kerb', 'dust', 'wall']
  let brush = $state<Brush | null>(null)
  let stroke = $state.raw<Stroke | null>(null)

  function paint(at: Point, stage: 'begin' | 'move' | 'end'): void {
    const { index, left } = map.nearest(road.middle, at)
    if (stage === 'begin')
      stroke = { fromIndex: index, toIndex: index, side: left ? 'left' : 'right' }
    else if (stroke) stroke = { ...stroke, toIndex: index }
    if (stage === 'end') void painted()
  }
  const strokeWay = $derived.by<Way | null>(() => {
    if (!stroke) return null
    const edge = stroke.side === 'left' ? road.left : road.right
    const indices = between(stroke)
    return {
      x_m: indices.map((index) => edge.x_m[index] ?? 0),
      y_m: indices.map((index) => edge.y_m[index] ?? 0),
    }
  })
  /** Whether a stroke was painted against the way one drives, by the shorter way around. */
  function backwards({ fromIndex, toIndex }: Stroke): boolean {
    const ahead = toIndex - fromIndex
    const count = road.road_at_m.length
    return circuit.closed && Math.abs(ahead) > count / 2 ? ahead > 0 : ahead < 0
  }
  function between(one: Stroke): number[] {
    const [first, last] = backwards(one)
      ? [one.toIndex, one.fromIndex]
      : [one.fromIndex, one.toIndex]
    const count = road.road_at_m.length
    const steps = last >= first ? last - first : last + count - first
    return Array.from({ length: steps + 1 }, (_, step) => (first + step) % count)
  }
  async function painted(): Promise<void> {
    const done = stroke
    stroke = null
    if (!done || !brush) return
    const indices = between(done)
    const from_m = road.road_at_m[indices[0] ?? 0] ?? 0
    const to_m = road.road_at_m[indices[indices.length - 1] ?? 0] ?? 0
    if (indices.length < 2) return
    await edits.make({
      op: 'put_edge',
      edge: {
        side: done.side,
        kind: brush,
        from_m,
        to_m,
        width_m: brush === 'kerb' ? 1 : 1.5,
        use: 'take',
        grip_factor: 0.85,
        distance_m: 0.5,
      },
    })
  }

  /** The ends of painted stretches, to be taken hold of. */
  const ends = $derived(
    painting && !brush && readable
      ? road.edges.flatMap((edge) =>
          (['from_m', 'to_m'] as const).map((end) => ({
            end,
            edge: edge.edge,
            number: edge.number,
          })),
        )
      : [],
  )
  type End = (typeof ends)[number]
  let heldEnd = $state.raw<{ end: End; at_m: number } | null>(null)
  function endPlace(end: End): Point {
    const held = heldEnd?.end.number === end.number && heldEnd.end.end === end.end
    const index = indexOf(held && heldEnd ? heldEnd.at_m : end.edge[end.end])
    const way = end.edge.side === 'left' ? road.left : road.right
    const [x, y] = [way.x_m[index] ?? 0, way.y_m[index] ?? 0]
    return { x: map.px(x, y), y: map.py(x, y) }
  }
  async function letGoEnd(event: PointerEvent): Promise<void> {
    event.stopPropagation()
    const held = heldEnd
    if (held && held.at_m !== held.end.edge[held.end.end])
      await edits.make({
        op: 'set_edge',
        number: held.end.number,
        edge: { ...held.end.edge, [held.end.end]: held.at_m },
      })
    heldEnd = null
  }

  const names = $derived(
    (circuit.segments ?? []).flatMap((segment, index) => {
      if (segment.kind !== 'corner') return []
      const at = indexOf((begins[index] ?? 0) + (lengths[index] ?? 0) / 2)
      // Outside of a left turn is its right edge.
      const [edge, other] =
        segment.direction === 'left' ? [road.right, road.left] : [road.left, road.right]
      const place = {
        x: map.px(edge.x_m[at] ?? 0, edge.y_m[at] ?? 0),
        y: map.py(edge.x_m[at] ?? 0, edge.y_m[at] ?? 0),
      }
      const from = {
        x: map.px(other.x_m[at] ?? 0, other.y_m[at] ?? 0),
        y: map.py(other.x_m[at] ?? 0, other.y_m[at] ?? 0),
      }
      const off = Math.hypot(place.x - from.x, place.y - from.y) || 1
      const out = { x: (place.x - from.x) / off, y: (place.y - from.y) / off }
      return [
        {
          index,
          name: segment.name,
          x: place.x + out.x * 15,
          y: place.y + out.y * 15 + 5,
          anchor: readable ? (out.x > 0.3 ? 'start' : out.x < -0.3 ? 'end' : 'middle') : 'middle',
        },
      ]
    }),
  )
</script>

<MapFrame
  {map}
  {view}
  {width}
  {height}
  label={painting
    ? 'The road to scale with its edges'
    : 'The road to scale with its boards and references'}
  testid="survey-map"
  draw={painting && brush ? paint : null}
>
  {#snippet tools()}
    {#if painting && circuit.segments_describe === 'road'}
      <span class="unit pl-1.5 self-center">draw</span>
      {#each BRUSHES as one (one)}
        <button
          aria-label="Draw {one} along an edge"
          aria-pressed={brush === one}
          onclick={() => (brush = brush === one ? null : one)}>{one}</button
        >
      {/each}
    {/if}
  {/snippet}
  <path d={map.surface(road.left, road.right)} fill="var(--leaf)" stroke="var(--ink-2)" />
  <path d={across(0)} stroke="var(--ink)" stroke-width="3" />
  {#each circuit.sectors_at_m ?? [] as at_m, number (number)}
    <path d={across(at_m)} stroke="var(--ink)" stroke-dasharray="2 2" />
  {/each}
  <EdgeInk {map} edges={road.edges} />
  {#if strokeWay}
    <path d={map.path(strokeWay)} class="stroke" data-testid="stroke" />
  {/if}
  {#each names as one, number (one.index)}
    <text x={one.x} y={one.y} text-anchor={one.anchor} class="name"
      ><tspan font-size="13" font-weight="600">{number + 1}</tspan
      >{#if readable || view.segment === one.index}<tspan class="place" dx="4" font-size="16"
          >{one.name}</tspan
        >{/if}</text
    >
  {/each}
  {#each marks as mark (`${mark.kind}${mark.number}`)}
    {@const foot = beside(shownAt(mark), 0)}
    {@const post = beside(shownAt(mark), readable ? 16 : 8)}
    <g
      class="mark"
      role="presentation"
      data-mark="{mark.kind}:{mark.number}"
      class:held={pulled?.mark === mark}
      onpointerdown={(event) => {
        if (painting) return
        event.stopPropagation()
        event.currentTarget.setPointerCapture(event.pointerId)
        pulled = { mark, at_m: mark.at_m }
      }}
      onpointermove={(event) => pull(event, mark)}
      onpointerup={(event) => void letGo(event)}
    >
      <path d="M{foot.x} {foot.y}L{post.x} {post.y}" stroke="var(--ink)" stroke-width="1.4" />
      {#if mark.kind === 'boards'}
        <rect x={post.x - size} y={post.y - size} width={2 * size} height={2 * size} />
      {:else}
        <circle cx={post.x} cy={post.y} r={size} />
      {/if}
      {#if readable}
        <text
          x={post.x + foot.away.x * 9}
          y={post.y + foot.away.y * 11 + 4.5}
          text-anchor={foot.away.x > 0.3 ? 'start' : foot.away.x < -0.3 ? 'end' : 'middle'}
          >{mark.label}{pulled?.mark === mark
            ? ` at ${whole(view.units.length(pulled.at_m))} ${view.units.lengthUnit}`
            : ''}</text
        >
      {/if}
    </g>
  {/each}
  {#each ends as end (`${end.number}${end.end}`)}
    {@const place = endPlace(end)}
    <circle
      class="end"
      role="presentation"
      data-end="{end.number}:{end.end}"
      cx={place.x}
      cy={place.y}
      r="5.5"
      onpointerdown={(event) => {
        event.stopPropagation()
        event.currentTarget.setPointerCapture(event.pointerId)
        heldEnd = { end, at_m: end.edge[end.end] }
      }}
      onpointermove={(event) => {
        if (!heldEnd) return
        event.stopPropagation()
        const { index } = map.nearest(road.middle, pointIn(event))
        heldEnd = { end, at_m: road.road_at_m[index] ?? 0 }
      }}
      onpointerup={(event) => void letGoEnd(event)}
    />
  {/each}
</MapFrame>

<style>
  .name {
    fill: var(--ink);
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 3px;
    pointer-events: none;
  }
  .mark {
    cursor: grab;
  }
  .mark rect,
  .mark circle {
    fill: var(--leaf);
    stroke: var(--ink);
    stroke-width: 1.5;
  }
  .mark.held rect,
  .mark.held circle {
    fill: var(--ink);
  }
  .mark text {
    font-size: 13px;
    fill: var(--ink);
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 3px;
  }
  .stroke {
    fill: none;
    stroke: var(--ember);
    stroke-width: 6;
    opacity: 0.8;
  }
  .end {
    fill: var(--leaf);
    stroke: var(--ink);
    stroke-width: 2;
    cursor: grab;
  }
</style>
