<script lang="ts">
  import type { Result } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { indexAt, pathOf, type Point } from '../curve/geometry'
  import { dense, placeMapLabels } from '../curve/mapLabels'
  import { SIZES, textWidth, textWidths } from '../curve/faces.svelte'
  import { plain, whole } from '../parts/format'

  /**
   * The circuit as driven, north up: braking as cross-strokes, corner numbers (and names where
   * there is room for them) outside the road, sector lines, the wind.
   */
  let {
    result,
    view,
    northDeg,
    windFromDeg,
    windMs,
    closed,
    named = false,
    still = false,
    width = 196,
    height = 128,
    beside,
    drag,
  }: {
    result: Result
    view: View
    northDeg: number
    windFromDeg: number
    windMs: number
    closed: boolean
    named?: boolean
    /** Neither cursor nor selection is shown, for paper. */
    still?: boolean
    width?: number
    height?: number
    /** Strokes beside the road: to its outside where more than 0, else to its inside, at most 1. */
    beside?: { at_m: number[]; value: number[] }
    /** Makes the chosen corner movable: outwards from its inside, or on along the road [m]. */
    drag?: (corner: number, outwardsM: number, alongM: number) => void
  } = $props()

  const margin = $derived(named ? 76 : beside ? 40 : 21)
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
  const box = $derived(
    turned.reduce(
      (found, p) => ({
        left: Math.min(found.left, p.x),
        right: Math.max(found.right, p.x),
        top: Math.min(found.top, p.y),
        bottom: Math.max(found.bottom, p.y),
      }),
      { left: Infinity, right: -Infinity, top: Infinity, bottom: -Infinity },
    ),
  )
  const scale = $derived(
    Math.min(
      (width - 2 * margin) / Math.max(box.right - box.left, 1),
      (height - 2 * (named ? 40 : margin)) / Math.max(box.bottom - box.top, 1),
    ),
  )
  const line = $derived(
    turned.map((p) => ({
      x: width / 2 + (p.x - (box.left + box.right) / 2) * scale,
      y: height / 2 + (p.y - (box.top + box.bottom) / 2) * scale,
    })),
  )
  const centre = $derived({ x: width / 2, y: height / 2 })

  function normal(index: number): Point {
    const from = line[Math.max(index - 2, 0)]
    const to = line[Math.min(index + 2, line.length - 1)]
    if (!from || !to) return { x: 0, y: 1 }
    const length = Math.hypot(to.x - from.x, to.y - from.y) || 1
    return { x: -(to.y - from.y) / length, y: (to.x - from.x) / length }
  }

  function across(index: number, half: number): string {
    const at = line[index] ?? centre
    const n = normal(index)
    return `M${(at.x - n.x * half).toFixed(1)} ${(at.y - n.y * half).toFixed(1)}l${(n.x * 2 * half).toFixed(1)} ${(n.y * 2 * half).toFixed(1)}`
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
      found.push(across(index, 5))
    }
    return found.join('')
  })

  /** Round which side the ring lies: 1 where the road's normal points out of it. */
  const outwards = $derived(
    line.reduce((sum, from, index) => {
      const to = line[(index + 1) % line.length] ?? from
      return sum + from.x * to.y - to.x * from.y
    }, 0) > 0
      ? -1
      : 1,
  )
  const STROKE_PX = 17
  const ROAD_PX = 4
  const strokesBeside = $derived.by(() => {
    const found = { out: '', in: '', ends: [] as Point[] }
    for (const [n, at] of (beside?.at_m ?? []).entries()) {
      const value = beside?.value[n] ?? 0
      const from = line[indexAt(trace, at)]
      if (!from || Math.abs(value) * STROKE_PX < 0.5) continue
      const way = normal(indexAt(trace, at))
      const side = outwards * Math.sign(value)
      const far = ROAD_PX + Math.abs(value) * STROKE_PX
      const near = { x: from.x + way.x * side * ROAD_PX, y: from.y + way.y * side * ROAD_PX }
      const end = { x: from.x + way.x * side * far, y: from.y + way.y * side * far }
      found[value > 0 ? 'out' : 'in'] += pathOf([near, end])
      found.ends.push(end)
    }
    return found
  })

  const sectors = $derived.by(() => {
    let at = 0
    return result.sector_times_s.slice(0, -1).map((time, number) => {
      at += time
      const index = Math.max(
        trace.t_s.findIndex((t) => t >= at),
        0,
      )
      return { number, path: across(index, 8) }
    })
  })

  const arrow = $derived(
    named ? { x: width - 34, y: height - 30 } : { x: width - 12, y: height - 11 },
  )
  const windText = $derived(
    `wind ${plain(view.units.show(windMs, 'wind'), 1)}${
      named ? ` ${view.units.unitOf('wind')} from ${whole(windFromDeg)}°` : ''
    }`,
  )
  const windBox = $derived(
    windMs > 0
      ? [
          {
            left: arrow.x - 14 - textWidth(windText, 'words', SIZES.note),
            right: arrow.x + 10,
            top: arrow.y - 9,
            bottom: arrow.y + 9,
          },
        ]
      : [],
  )

  const NUMBER_ROOM = 16
  const CROWDED = 16
  const labels = $derived.by(() => {
    const names = result.corners.map(({ name }, number) =>
      named && name !== `${number + 1}` ? name : '',
    )
    const widths = textWidths(
      names.map((text) => ({ text, face: 'place' as const, size: SIZES.name })),
    )
    const wanted = result.corners.map((corner, number) => {
      const name = names[number] ?? ''
      const index = indexAt(trace, corner.apex_at_m)
      const n = normal(index)
      // Left turns bend towards -n on this map, whose y points down; outside is the other side.
      const side = corner.direction === 'left' ? 1 : -1
      return {
        number,
        name,
        anchor: line[index] ?? centre,
        outside: { x: n.x * side, y: n.y * side },
        width: NUMBER_ROOM + (name ? 4 + (widths[number] ?? 0) : 0),
        height: NUMBER_ROOM,
      }
    })
    // A small map of many corners would be all numbers; there only the chosen one has its own.
    const crowded = !named && !still && wanted.length > CROWDED
    const shown = crowded ? wanted.filter((label) => label.number === view.corner) : wanted
    const { placed, lost } = placeMapLabels(
      shown,
      [...dense(line), ...strokesBeside.ends],
      { width, height },
      windBox,
    )
    return {
      lost,
      placed: placed.map((label) => ({ ...label, name: wanted[label.number]?.name ?? '' })),
    }
  })
  $effect(() => {
    if (named && labels.lost.length > 0)
      console.error(`Corners that do not fit on the map: ${labels.lost.join(', ')}`)
  })

  /** The chosen corner's apex and beginning, to be taken hold of. */
  interface Handle {
    what: 'apex' | 'joint'
    at: Point
    way: Point
  }
  const handles = $derived.by<Handle[]>(() => {
    const corner = view.corner === null ? undefined : result.corners[view.corner]
    if (!drag || !corner) return []
    const apex = indexAt(trace, corner.apex_at_m)
    const joint = indexAt(trace, corner.begins_at_m)
    const side = corner.direction === 'left' ? 1 : -1
    const n = normal(apex)
    const along = normal(joint)
    return [
      // The apex is drawn last and lies on top where a small map brings both together.
      { what: 'joint', at: line[joint] ?? centre, way: { x: along.y, y: -along.x } },
      { what: 'apex', at: line[apex] ?? centre, way: { x: n.x * side, y: n.y * side } },
    ]
  })
  let held = $state.raw<{ handle: Handle; from: Point; px: number } | null>(null)
  function pull(event: PointerEvent): void {
    if (!held) return
    const { way } = held.handle
    const px = (event.clientX - held.from.x) * way.x + (event.clientY - held.from.y) * way.y
    held = { ...held, px }
  }
  function letGo(): void {
    const released = held
    held = null
    if (!released || !drag || view.corner === null || Math.abs(released.px) < 2) return
    const metres = released.px / scale
    const outwards = released.handle.what === 'apex'
    drag(view.corner, outwards ? metres : 0, outwards ? 0 : metres)
  }

  const cursor = $derived(
    still || view.cursorM === null ? null : line[indexAt(trace, view.cursorM)],
  )
</script>

<svg
  class="overflow-visible"
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  role="group"
  aria-label="Map of the circuit; corners can be chosen on it"
  data-testid={named ? 'large-map' : 'map'}
  data-lost={labels.lost.length}
>
  <path
    d={`M${line.map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('L')}${closed ? 'Z' : ''}`}
    fill="none"
    stroke="var(--ink)"
    stroke-width={named ? 3.4 : 2.4}
    stroke-linejoin="round"
  />
  <path d={strokesBeside.out} stroke="var(--ink-2)" stroke-width="1.4" />
  <path d={strokesBeside.in} stroke="var(--cool)" stroke-width="2.2" />
  {#if !beside}<path d={strokes} stroke="var(--ember)" stroke-width="1.5" />{/if}
  <path d={across(0, 6)} stroke="var(--ink)" stroke-width="2.5" />
  {#if !closed}
    <path d={across(line.length - 1, 6)} stroke="var(--ink)" stroke-width="2.5" />
    <path d={across(Math.max(line.length - 8, 0), 6)} stroke="var(--ink)" stroke-width="1.2" />
  {/if}
  {#if named}
    {#each sectors as sector (sector.number)}
      <path d={sector.path} stroke="var(--ink)" stroke-dasharray="2 2" />
    {/each}
  {/if}
  {#each labels.placed as mark (mark.number)}
    {@const chosen = !still && view.corner === mark.number}
    {#if mark.far}
      <path
        d="M{mark.anchor.x} {mark.anchor.y}L{Math.min(
          Math.max(mark.anchor.x, mark.box.left),
          mark.box.right,
        )} {Math.min(Math.max(mark.anchor.y, mark.box.top), mark.box.bottom)}"
        stroke="var(--rule)"
      />
    {/if}
    <!-- The table offers the same choice to the keyboard. -->
    <g class="corner" role="presentation" onclick={() => view.select(result, mark.number)}>
      <rect
        x={mark.box.left - 1}
        y={mark.box.top}
        width={mark.box.right - mark.box.left + 2}
        height={mark.box.bottom - mark.box.top}
        fill={chosen ? 'var(--ink)' : 'transparent'}
      />
      <text
        class="map-label"
        data-number={mark.number}
        x={mark.name ? mark.box.left : mark.x}
        y={mark.y + 4.5}
        text-anchor={mark.name ? 'start' : 'middle'}
        fill={chosen ? 'var(--paper)' : 'var(--ink)'}
        ><tspan font-size="13" font-weight="600">{mark.number + 1}</tspan>{#if mark.name}<tspan
            class="place"
            dx="4"
            font-size={SIZES.name}>{mark.name}</tspan
          >{/if}</text
      >
    </g>
  {/each}
  {#if windMs > 0}
    <g transform="translate({arrow.x} {arrow.y}) rotate({windFromDeg + 180})">
      <path d="M0 9V-9M-4 -4L0 -9L4 -4" fill="none" stroke="var(--ink-2)" stroke-width="1.6" />
    </g>
    <text
      x={arrow.x - 12}
      y={arrow.y + 5}
      text-anchor="end"
      font-size={SIZES.note}
      fill="var(--ink-2)">{windText}</text
    >
  {/if}
  {#if named}
    <path d="M14 40V14M9 21l5 -8l5 8" fill="none" stroke="var(--ink-2)" stroke-width="1.5" />
    <text x="14" y="55" text-anchor="middle" font-size="13" fill="var(--ink-2)">N</text>
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
  {#each handles as handle (handle.what)}
    {@const pulled = held?.handle.what === handle.what ? held.px : 0}
    <!-- The sheet changes the same figures by keys. -->
    <rect
      role="presentation"
      class="handle"
      data-handle={handle.what}
      x={handle.at.x + handle.way.x * pulled - 5}
      y={handle.at.y + handle.way.y * pulled - 5}
      width="10"
      height="10"
      transform={handle.what === 'apex'
        ? `rotate(45 ${handle.at.x + handle.way.x * pulled} ${handle.at.y + handle.way.y * pulled})`
        : undefined}
      onpointerdown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        held = { handle, from: { x: event.clientX, y: event.clientY }, px: 0 }
      }}
      onpointermove={pull}
      onpointerup={letGo}
    />
  {/each}
</svg>

<style>
  .corner {
    cursor: pointer;
  }
  .handle {
    fill: var(--leaf);
    stroke: var(--ink);
    stroke-width: 1.8;
    cursor: grab;
    touch-action: none;
  }
</style>
