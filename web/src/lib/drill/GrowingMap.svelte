<script lang="ts">
  import type { Result } from '../api/client'
  import type { Drill } from './drill.svelte'
  import { between, drawn, spots } from './trackPath'

  /** The lap drawn from memory: a right answer draws its stretch, a wrong one leaves it dashed. */
  let { drill, result }: { drill: Drill; result: Result } = $props()

  const WIDTH = 520
  const HEIGHT = 420
  const points = $derived(spots(result.trace, WIDTH, HEIGHT))
  const shown = $derived([
    { from_m: 0, to_m: result.corners[0]?.ends_at_m ?? 0, inside: true },
    ...drill.answers.map((one, n) => ({
      from_m: drill.questions[n]?.stretch.from_m ?? 0,
      to_m: drill.questions[n]?.stretch.to_m ?? 0,
      inside: one.inside,
    })),
  ])
</script>

<svg
  class="w-full max-h-105"
  viewBox="0 0 {WIDTH} {HEIGHT}"
  role="img"
  aria-label="The lap as far as it is remembered: {drill.answers.filter((one) => one.inside)
    .length + 1} of {result.corners.length} corners drawn"
  data-testid="growing-map"
>
  {#each shown as one, n (n)}
    {#each between(points, result.trace.s_m, one.from_m, one.to_m) as part, k (k)}
      <path
        d={drawn(part)}
        class:missed={!one.inside}
        fill="none"
        stroke="var(--ink)"
        stroke-width="3"
      />
    {/each}
  {/each}
</svg>

<style>
  .missed {
    stroke-dasharray: 3 7;
    stroke-width: 2;
  }
</style>
