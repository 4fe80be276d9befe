<script lang="ts">
  import type { DrillRun } from '../api/client'

  /** The road drawn straight ahead: boards and corners come towards the reader and pass. */
  let { lap, atM, now, still }: { lap: DrillRun; atM: number; now: number; still: boolean } =
    $props()

  const WIDTH = 320
  const HEIGHT = 360
  const MIDDLE = 172
  const HALF = 30
  const AHEAD_M = 240
  const BEHIND_M = 25
  /** Whoever asks for less motion sees the road in steps. */
  const calm = matchMedia('(prefers-reduced-motion: reduce)').matches
  const at = $derived(calm && !still ? lapAt(Math.floor(now * 2) / 2) : atM)
  function lapAt(time: number): number {
    const n = lap.t_s.findIndex((one) => one >= time)
    return lap.s_m[Math.max(n, 0)] ?? 0
  }
  /** How far ahead a place is; what is behind by more than is drawn is ahead by a lap. */
  function ahead(place: number): number {
    let far = place - at
    if (lap.closed && far < -BEHIND_M) far += lap.length_m
    return far
  }
  const y = (far: number): number => HEIGHT - ((far + BEHIND_M) / (AHEAD_M + BEHIND_M)) * HEIGHT
  const near = (far: number): boolean => far >= 8 - BEHIND_M && far <= AHEAD_M
  const boards = $derived(
    lap.boards.map((one) => ({ ...one, far: ahead(one.at_m) })).filter((one) => near(one.far)),
  )
  const corners = $derived(
    lap.corners
      .map((one, n) => ({ ...one, n, far: ahead(one.begins_m), end: ahead(one.ends_m) }))
      .filter((one) => near(one.far) || near(one.end)),
  )
  const brakes = $derived(
    lap.beats
      .filter((one) => one.deed === 'brake')
      .map((one) => ahead(one.at_m))
      .filter(near),
  )
</script>

<svg class="w-full max-h-90" viewBox="0 0 {WIDTH} {HEIGHT}" role="img" aria-label="The road ahead">
  <rect x={MIDDLE - HALF} y="0" width={2 * HALF} height={HEIGHT} fill="var(--wash)" />
  <path
    d="M{MIDDLE - HALF} 0V{HEIGHT}M{MIDDLE + HALF} 0V{HEIGHT}"
    stroke="var(--ink)"
    stroke-width="1.400"
  />
  {#each corners as corner (corner.n)}
    {@const side = corner.direction === 'right' ? 1 : -1}
    {@const top = y(corner.end > corner.far ? Math.min(corner.end, AHEAD_M) : AHEAD_M)}
    <rect
      x={MIDDLE + (side > 0 ? HALF - 8 : -HALF)}
      y={top}
      width="8"
      height={Math.max(y(Math.max(corner.far, -BEHIND_M)) - top, 2)}
      fill="var(--ink)"
    />
    {#if near(corner.far)}
      <text class="name" x={MIDDLE + HALF + 10} y={y(corner.far) + 5} text-anchor="start"
        >{corner.n + 1} {corner.name}</text
      >
    {/if}
  {/each}
  {#each brakes as far, n (n)}
    <path
      d="M{MIDDLE - HALF - 6} {y(far)}h{2 * HALF + 12}"
      stroke="var(--ember)"
      stroke-width="4"
    />
  {/each}
  {#each boards as board (board.label + String(board.at_m))}
    <path d="M{MIDDLE - HALF} {y(board.far)}h-12" stroke="var(--ink)" />
    <text x={MIDDLE - HALF - 16} y={y(board.far) + 5} text-anchor="end">{board.label}</text>
  {/each}
  <path d="M{MIDDLE - 9} {y(0) + 8}l9 -16l9 16z" fill="var(--ember)" />
</svg>

<style>
  text {
    font-family: var(--figures);
    font-size: 17px;
    font-weight: 600;
    fill: var(--ink);
  }
  .name {
    font-style: italic;
    font-size: 15px;
  }
</style>
