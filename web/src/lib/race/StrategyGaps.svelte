<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Race } from '../api/client'
  import { plain } from '../parts/format'

  /** How far each other strategy is behind the best along the race: behind is upwards. */
  let { race, width }: { race: Race; width: number } = $props()

  const HEIGHT = 190
  const LEFT = 52
  const RIGHT = 40
  const DASHES = ['none', '8 4', '2 3', '9 3 2 3', '5 5']
  const plans = $derived(race.others.filter((plan) => (plan.gap_s ?? []).length === race.laps))
  const all = $derived(plans.flatMap((plan) => plan.gap_s ?? []))
  const x = $derived(scaleLinear([0, race.laps], [LEFT, width - RIGHT]))
  const y = $derived(
    scaleLinear([Math.min(0, ...all), Math.max(1, ...all)], [HEIGHT - 24, 18]).nice(4),
  )
  const line = (gaps: number[]): string =>
    `M${x(0)} ${y(0)}L` +
    gaps.map((gap, n) => `${x(n + 1).toFixed(1)} ${y(gap).toFixed(1)}`).join('L')
  /** Numbers at the ends are moved apart where lines end close together. */
  const ends = $derived.by(() => {
    const order = plans
      .map((plan, n) => ({ n, at: y(plan.gap_s?.at(-1) ?? 0) }))
      .sort((a, b) => a.at - b.at)
    order.forEach((one, k) => {
      const above = order[k - 1]
      if (above && one.at < above.at + 14) one.at = above.at + 14
    })
    return new Map(order.map((one) => [one.n, one.at]))
  })
</script>

{#if plans.length > 0}
  <svg
    class="max-w-full h-auto"
    {width}
    height={HEIGHT}
    viewBox="0 0 {width} {HEIGHT}"
    role="img"
    aria-label="Seconds behind the best strategy after each lap, stops included: {plans
      .map((plan, n) => `${n + 1} ${plan.stops_and_tyres}, ${plain(plan.behind_s, 1)} s at the end`)
      .join('; ')}"
    data-testid="strategy-gaps"
  >
    {#each y.ticks(5) as tick (tick)}
      <path d="M{LEFT} {y(tick)}H{width - RIGHT}" stroke="var(--hair)" />
      <text x={LEFT - 6} y={y(tick) + 4} text-anchor="end" class="tick">{plain(tick, 0)}</text>
    {/each}
    <path d="M{LEFT} {y(0)}H{width - RIGHT}" stroke="var(--ink)" />
    <text x={LEFT + 4} y="12" class="tick">seconds behind the best strategy, stops included</text>
    {#each x.ticks(8) as tick (tick)}
      <text x={x(tick)} y={HEIGHT - 6} text-anchor="middle" class="tick"
        >{tick === 0 ? 'lap' : tick}</text
      >
    {/each}
    {#each plans as plan, n (n)}
      <path
        d={line(plan.gap_s ?? [])}
        fill="none"
        stroke="var(--ink)"
        stroke-width="1.8"
        stroke-dasharray={DASHES[n % DASHES.length]}
      />
      <text x={width - RIGHT + 6} y={(ends.get(n) ?? 0) + 5} class="end">{n + 1}</text>
    {/each}
  </svg>
{/if}

<style>
  .end {
    font: 600 15px var(--figures);
    fill: var(--ink);
  }
</style>
