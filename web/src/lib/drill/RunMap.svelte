<script lang="ts">
  import type { DrillRun } from '../api/client'
  import { drawn, spots } from './trackPath'

  /** The lap from above, with where one is now. */
  let { lap, atX, atY }: { lap: DrillRun; atX: number; atY: number } = $props()

  const WIDTH = 300
  const HEIGHT = 240
  // Where one is now is laid out with the lap, as its last point.
  const points = $derived(spots(lap, WIDTH, HEIGHT))
  const now = $derived(
    spots({ x_m: [...lap.x_m, atX], y_m: [...lap.y_m, atY] }, WIDTH, HEIGHT).at(-1),
  )
</script>

<svg
  class="w-full max-w-75"
  viewBox="0 0 {WIDTH} {HEIGHT}"
  role="img"
  aria-label="Where on the lap"
>
  <path d={drawn(points)} fill="none" stroke="var(--ink)" stroke-width="2.600" />
  {#if now}<circle cx={now.x} cy={now.y} r="7" fill="var(--ember)" />{/if}
</svg>
