<script lang="ts">
  import type { Snippet } from 'svelte'
  import type { View } from '../state/view.svelte'
  import type { MapWindow, Point } from './window.svelte'
  import { pointIn } from './window.svelte'

  /**
   * A map one moves in: plus and minus or the wheel, the arrows or dragging, 0 for the whole;
   * with a scale bar and north. Where `draw` is given, pressing and moving draws instead.
   */
  let {
    map,
    view,
    width,
    height,
    label,
    testid,
    tools,
    draw,
    children,
  }: {
    map: MapWindow
    view: View
    width: number
    height: number
    label: string
    testid: string
    tools?: Snippet
    draw?: ((at: Point, stage: 'begin' | 'move' | 'end') => void) | null
    children: Snippet
  } = $props()

  let held: Point | null = null
  /** A bar of a round number of metres, feet or yards. */
  const bar = $derived.by(() => {
    const room = view.units.length(110 / map.now.scale)
    const round = [2000, 1000, 500, 200, 100, 50, 20, 10, 5].find((one) => one <= room) ?? 2
    return { round, px: view.units.read(round, 'length') * map.now.scale }
  })
  function move(event: PointerEvent): void {
    if (!held) return
    if (draw) {
      draw(pointIn(event), 'move')
      return
    }
    map.shift(held.x - event.clientX, held.y - event.clientY)
    held = { x: event.clientX, y: event.clientY }
  }
</script>

<div class="border-b border-b-rule relative">
  <div
    class="tools gap-1 absolute top-1 left-1 right-10 z-2 flex flex-wrap pointer-events-none"
    role="toolbar"
    aria-label="Map"
  >
    <button onclick={() => map.zoom(1.4)} aria-label="Closer">+</button>
    <button onclick={() => map.zoom(1 / 1.4)} aria-label="Farther">−</button>
    <button onclick={() => map.showWhole()}>Whole lap</button>
    {@render tools?.()}
  </div>
  <!-- The map itself takes the arrow keys and the wheel; what is beside it offers every choice. -->
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <svg
    class="block cursor-grab touch-none"
    {width}
    {height}
    viewBox="0 0 {width} {height}"
    role="img"
    aria-label="{label}; plus, minus, arrows and 0 move the map"
    data-testid={testid}
    data-scale={map.now.scale.toFixed(3)}
    class:drawing={draw}
    tabindex="0"
    onkeydown={(event) => map.key(event)}
    onwheel={(event) => map.wheel(event)}
    onpointerdown={(event) => {
      held = { x: event.clientX, y: event.clientY }
      event.currentTarget.setPointerCapture(event.pointerId)
      draw?.(pointIn(event), 'begin')
    }}
    onpointermove={move}
    onpointerup={(event) => {
      if (held) draw?.(pointIn(event), 'end')
      held = null
    }}
  >
    {@render children()}
    <g transform="translate(16 {height - 14})">
      <path d="M0 -4V0H{bar.px}V-4" fill="none" stroke="var(--ink)" />
      <text x={bar.px + 6} y="2" font-size="13" fill="var(--ink-2)"
        >{bar.round} {view.units.lengthUnit}</text
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
  svg.drawing {
    cursor: crosshair;
  }
  .tools :global(button) {
    min-width: 26px;
    padding: 0 6px;
    height: 26px;
    border: 1px solid var(--rule);
    background: var(--paper);
    font-size: 14px;
    cursor: pointer;
    pointer-events: auto;
  }
  .tools :global([aria-pressed='true']) {
    background: var(--ink);
    color: var(--paper);
  }
</style>
