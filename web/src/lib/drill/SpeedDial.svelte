<script lang="ts">
  import type { DrillScored } from '../api/client'
  import type { Units } from '../parts/units'

  /** A speed on a half-round scale: pointed at or dragged; once answered, the plan's and its band. */
  let {
    value,
    most,
    right,
    units,
    set,
  }: {
    value: number
    most: number
    right: DrillScored['figures'][number] | null
    units: Units
    set: (value: number) => void
  } = $props()

  const R = 120
  const CX = 150
  const CY = 140
  const every = $derived(most > 200 ? 50 : 20)
  const ticks = $derived(Array.from({ length: Math.floor(most / every) + 1 }, (_, n) => n * every))
  function at(speed: number, radius: number): [number, number] {
    const turn = Math.PI * (1 - Math.min(Math.max(speed / most, 0), 1))
    return [CX + radius * Math.cos(turn), CY - radius * Math.sin(turn)]
  }
  const spot = (speed: number, radius: number): string => at(speed, radius).join(' ')
  function point(event: PointerEvent): void {
    const svg = event.currentTarget as SVGSVGElement
    if (event.type === 'pointerdown') svg.setPointerCapture(event.pointerId)
    else if (!svg.hasPointerCapture(event.pointerId)) return
    const box = svg.getBoundingClientRect()
    const x = ((event.clientX - box.left) / box.width) * 300 - CX
    const y = CY - ((event.clientY - box.top) / box.height) * 160
    set(most * (1 - Math.atan2(Math.max(y, 0), x) / Math.PI))
  }
</script>

<!-- The figure beside it is typed and stepped; the dial is for who points. -->
<svg
  class="w-75 max-w-full touch-none cursor-pointer"
  viewBox="0 0 300 160"
  aria-hidden="true"
  data-testid="drill-dial"
  onpointerdown={point}
  onpointermove={point}
>
  <path d="M{CX - R} {CY}A{R} {R} 0 0 1 {CX + R} {CY}" fill="none" stroke="var(--ink)" />
  {#each ticks as tick (tick)}
    <path d="M{spot(tick, R - 8)}L{spot(tick, R)}" stroke="var(--ink)" />
    <text x={at(tick, R - 22)[0]} y={at(tick, R - 22)[1] + 4} text-anchor="middle">{tick}</text>
  {/each}
  {#if right}
    <path
      d="M{spot(units.speed(right.low), R + 8)}A{R + 8} {R + 8} 0 0 1 {spot(
        units.speed(right.high),
        R + 8,
      )}"
      fill="none"
      stroke="var(--ink)"
      stroke-width="6"
    />
    <path
      d="M{spot(units.speed(right.right), R - 12)}L{spot(units.speed(right.right), R + 12)}"
      stroke="var(--ink)"
      stroke-width="3"
    />
  {/if}
  <path d="M{CX} {CY}L{spot(value, R - 4)}" stroke="var(--ember)" stroke-width="4" />
  <circle cx={CX} cy={CY} r="5" fill="var(--ember)" />
</svg>

<style>
  text {
    font-size: 13px;
    fill: var(--ink-2);
  }
</style>
