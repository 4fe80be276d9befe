<script lang="ts">
  import type { DrawnLine, RoadDrawing } from '../api/client'
  import type { View } from '../state/view.svelte'
  import EdgeInk from '../map/EdgeInk.svelte'
  import MapFrame from '../map/MapFrame.svelte'
  import { MapWindow, type Way } from '../map/window.svelte'
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

  const corner = $derived(view.corner === null ? null : (road.corners[view.corner] ?? null))
  /** The chosen corner with a little of the road around it. */
  const focus = $derived.by<Way | null>(() => {
    if (!corner) return null
    const length = road.road_at_m[road.road_at_m.length - 1] ?? 1
    const from = corner.begins_at_m - 40
    const reach = corner.ends_at_m + 40 - from
    const inside = road.road_at_m.flatMap((at, index) => {
      const ahead = closed ? (((at - from) % length) + length) % length : at - from
      return ahead >= 0 && ahead <= reach ? [index] : []
    })
    return {
      x_m: inside.map((index) => road.middle.x_m[index] ?? 0),
      y_m: inside.map((index) => road.middle.y_m[index] ?? 0),
    }
  })
  const map = new MapWindow(() => ({
    ways: [road.left, road.right],
    northDeg,
    width,
    height,
    margin: { x: 55, y: 35 },
    focus,
  }))

  let followed: number | null = null
  $effect(() => {
    if (view.corner === followed) return
    followed = view.corner
    map.moved = null
  })

  const cursor = $derived.by(() => {
    if (view.cursorM === null) return null
    // The cursor is a place along the driven lap.
    const share = view.cursorM / driven.length_m
    const index = Math.round(share * (driven.way.x_m.length - 1))
    const x = driven.way.x_m[index] ?? 0
    const y = driven.way.y_m[index] ?? 0
    return { x: map.px(x, y), y: map.py(x, y) }
  })
  const names = $derived(
    road.corners.map((one, number) => {
      const off = 13 + 8 * map.now.scale
      const [outX, outY] = [map.east(one.out_x, one.out_y), map.south(one.out_x, one.out_y)]
      return {
        number,
        name: one.name,
        anchor:
          map.now.scale > 0.9 ? (outX > 0.3 ? 'start' : outX < -0.3 ? 'end' : 'middle') : 'middle',
        x: map.px(one.x_m, one.y_m) + outX * off,
        y: map.py(one.x_m, one.y_m) + outY * off + 5,
      }
    }),
  )
  const drawn = $derived(
    lines.filter((line) => line.kind === driven.kind || line.kind === other?.kind),
  )
</script>

<MapFrame {map} {view} {width} {height} label="The road to scale with its lines" testid="road-map">
  <path
    d={map.surface(road.left, road.right)}
    fill="var(--leaf)"
    stroke="var(--ink-2)"
    stroke-width="1"
  />
  {#if map.now.scale > 2}
    <path d={map.path(road.middle)} fill="none" stroke="var(--rule)" stroke-dasharray="1 5" />
  {/if}
  {#if map.now.scale > 2}
    <!-- As far as the vehicle’s sides may go. -->
    <path d={map.path(road.usable_left)} class="usable" />
    <path d={map.path(road.usable_right)} class="usable" />
  {/if}
  <EdgeInk {map} edges={road.edges} />
  {#each drawn as line (line.kind)}
    <path
      data-line={line.kind}
      d={map.path(line.way)}
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
        map.moved = null
        view.corner = mark.number
      }}
    >
      <text x={mark.x} y={mark.y} text-anchor={mark.anchor}
        ><tspan font-size="13" font-weight="600">{mark.number + 1}</tspan
        >{#if map.now.scale > 0.9 || view.corner === mark.number}<tspan
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
</MapFrame>

<style>
  .usable {
    fill: none;
    stroke: var(--cool);
    stroke-dasharray: 2 4;
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
</style>
