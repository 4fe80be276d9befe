<script lang="ts">
  import type { DrillRoad, DrillScored } from '../api/client'

  /**
   * The road straight ahead with its boards: a place on it is dragged, or stepped by the arrows.
   * Once answered, the plan's place lies beside it with the band in which an answer is right.
   */
  let {
    road,
    scored,
    given,
    keys,
  }: {
    road: DrillRoad
    scored: DrillScored | null
    given: (figures: number[]) => void
    keys: (keys: (event: KeyboardEvent) => boolean) => void
  } = $props()

  const WIDTH = 340
  const MIDDLE = 170
  const HALF = 34
  const STEP_M = 5
  const metres = $derived(road.from_m - road.until_m)
  const height = $derived(Math.min(420, Math.max(300, metres * 1.6)))
  /** Metres along the drawn road, from its near end. */
  // It begins a third of the way up, where nothing is hinted at.
  let along = $derived(Math.round((road.from_m - road.until_m) / 3))
  let svg = $state<SVGSVGElement>()

  const y = (toCornerM: number): number =>
    height - 6 - ((road.from_m - toCornerM) / metres) * (height - 12)
  const place = $derived(road.from_m - along)
  const said = $derived(road.places[along] ?? '')
  const right = $derived(scored?.figures[0] ?? null)

  $effect(() => {
    given([place])
  })
  function put(metre: number): void {
    if (!scored) along = Math.min(Math.max(Math.round(metre), 0), road.places.length - 1)
  }
  function key(event: KeyboardEvent): boolean {
    const step = event.shiftKey ? 1 : STEP_M
    if (event.key === 'ArrowUp' || event.key === 'ArrowRight') put(along + step)
    else if (event.key === 'ArrowDown' || event.key === 'ArrowLeft') put(along - step)
    else return false
    return true
  }
  $effect(() => {
    keys(key)
  })

  function drag(event: PointerEvent): void {
    if (!svg || scored) return
    if (event.type === 'pointerdown') svg.setPointerCapture(event.pointerId)
    else if (!svg.hasPointerCapture(event.pointerId)) return
    const box = svg.getBoundingClientRect()
    const share = (event.clientY - box.top) / box.height
    put(((height - 6 - share * height) / (height - 12)) * metres)
    event.preventDefault()
  }
  const outside = $derived(road.direction === 'right' ? -1 : 1)
</script>

<div class="road gap-1 grid justify-items-center">
  <!-- The road takes the arrows as a slider does. -->
  <svg
    bind:this={svg}
    viewBox="0 0 {WIDTH} {height}"
    style:height="{height}px"
    role="slider"
    tabindex="0"
    aria-label="Where, on the road"
    aria-orientation="vertical"
    aria-valuemin={0}
    aria-valuemax={road.places.length - 1}
    aria-valuenow={along}
    aria-valuetext={said}
    aria-disabled={scored !== null}
    data-testid="drill-road"
    onpointerdown={drag}
    onpointermove={drag}
  >
    <rect x={MIDDLE - HALF} y="0" width={2 * HALF} {height} fill="var(--wash)" />
    <path
      d="M{MIDDLE - HALF} 0V{height}M{MIDDLE + HALF} 0V{height}"
      stroke="var(--ink)"
      stroke-width="1.400"
    />
    <path
      d="M{MIDDLE} {height}V{y(0)}"
      stroke="var(--rule)"
      stroke-width="1"
      stroke-dasharray="6 8"
    />
    <!-- Where the corner begins, and which way it turns. -->
    <path d="M{MIDDLE - HALF} {y(0)}h{2 * HALF}" stroke="var(--ink)" stroke-width="1" />
    <path
      d="M{MIDDLE} {y(0)}q0 -22 {-outside * 26} -26"
      fill="none"
      stroke="var(--ink)"
      stroke-width="2"
    />
    <text x={MIDDLE - outside * (HALF + 8)} y={y(0) + 4} text-anchor={outside < 0 ? 'start' : 'end'}
      >corner begins</text
    >
    {#each road.marks as mark (mark.label + mark.to_corner_m)}
      {@const at = y(mark.to_corner_m)}
      <path
        d="M{MIDDLE + outside * HALF} {at}h{outside * 14}"
        stroke="var(--ink)"
        stroke-width="1"
      />
      <text
        class="board"
        x={MIDDLE + outside * (HALF + 18)}
        y={at + 5}
        text-anchor={outside > 0 ? 'start' : 'end'}>{mark.label}</text
      >
    {/each}
    {#if right}
      <rect
        x={MIDDLE - HALF}
        y={y(right.low)}
        width={2 * HALF}
        height={Math.max(y(right.high) - y(right.low), 2)}
        fill="none"
        stroke="var(--ink)"
        stroke-dasharray="3 3"
      />
      <path
        d="M{MIDDLE - HALF - 10} {y(right.right)}h{2 * HALF + 20}"
        stroke="var(--ink)"
        stroke-width="3"
      />
    {/if}
    <path
      d="M{MIDDLE - HALF - 4} {y(place)}h{2 * HALF + 8}"
      stroke="var(--ember)"
      stroke-width="4"
    />
    <path
      d="M{MIDDLE - HALF - 6} {y(place)}l-12 -7v14z"
      fill="var(--ember)"
      transform={outside < 0 ? `translate(${String(2 * MIDDLE)} 0) scale(-1 1)` : undefined}
    />
  </svg>
  <p class="figure text-[22px]" aria-hidden="true">{said}</p>
  <p class="unit text-[13px]">
    {scored ? 'Dashed: the correct range.' : 'Drag the mark, or use the arrow keys (Shift: finer).'}
  </p>
  <div class="steps gap-1.5 flex flex-wrap justify-center">
    {#each [[-STEP_M, 'Earlier'], [-1, 'A little earlier'], [1, 'A little later'], [STEP_M, 'Later']] as const as [by, label] (label)}
      <button class="btn btn-sm" disabled={scored !== null} onclick={() => put(along + by)}
        >{label}</button
      >
    {/each}
  </div>
</div>

<style>
  svg {
    touch-action: none;
    cursor: ns-resize;
    max-width: 100%;
  }
  text {
    font-size: 13px;
    fill: var(--ink-2);
  }
  .board {
    font-family: var(--figures);
    font-size: 19px;
    font-weight: 600;
    fill: var(--ink);
  }
</style>
