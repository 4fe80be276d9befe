<script lang="ts">
  import type { Lanes, Result } from '../api/client'
  import MapFrame from '../map/MapFrame.svelte'
  import { MapWindow } from '../map/window.svelte'
  import type { View } from '../state/view.svelte'

  /** The lines to scale on the circuit: the chosen one heavy, the others thin. */
  let {
    lanes,
    chosen,
    result,
    view,
    northDeg,
    width,
    height,
  }: {
    lanes: Lanes
    chosen: string
    result: Result
    view: View
    northDeg: number
    width: number
    height: number
  } = $props()

  const map = new MapWindow(() => ({
    ways: lanes.lines.map((line) => line.along),
    northDeg,
    width,
    height,
    margin: { x: 44, y: 40 },
    focus: null,
  }))
  const heavy = $derived(lanes.lines.find((line) => line.name === chosen))
  /** Names stand inside of the turns, away from the lines. */
  const middle = $derived.by(() => {
    const { x_m = [], y_m = [] } = heavy?.along ?? {}
    const mean = (of: number[]): number => of.reduce((sum, one) => sum + one, 0) / (of.length || 1)
    return { x: map.px(mean(x_m), mean(y_m)), y: map.py(mean(x_m), mean(y_m)) }
  })
  const names = $derived(
    result.corners.map((corner) => {
      const n = lanes.at_m.findIndex((at) => at >= corner.apex_at_m)
      const [x, y] = [heavy?.along.x_m[n] ?? 0, heavy?.along.y_m[n] ?? 0]
      const [px, py] = [map.px(x, y), map.py(x, y)]
      const far = Math.hypot(middle.x - px, middle.y - py) || 1
      return {
        name: corner.name,
        x: px + ((middle.x - px) / far) * 54,
        y: py + ((middle.y - py) / far) * 34 + 5,
      }
    }),
  )
</script>

<MapFrame {map} {view} {width} {height} label="Lanes to scale" testid="lanes-map">
  {#each lanes.lines as line (line.name)}
    <path d={map.path(line.along)} fill="none" stroke="var(--coast)" stroke-width="0.8" />
  {/each}
  {#if heavy}<path d={map.path(heavy.along)} fill="none" stroke="var(--ink)" stroke-width="2.6" />
  {/if}
  {#each names as one (one.name)}
    <text x={one.x} y={one.y} text-anchor="middle" class="place" font-size="15" fill="var(--ink)"
      >{one.name}</text
    >
  {/each}
</MapFrame>
