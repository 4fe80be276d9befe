<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Lanes, Result } from '../api/client'
  import { pathOf, thinned } from '../curve/geometry'
  import { plain, timeDifference } from '../parts/format'

  /** What every line loses to the quickest: along a lap on a fresh set, or over the whole run. */
  let {
    lanes,
    chosen,
    result,
    over,
    width,
  }: { lanes: Lanes; chosen: string; result: Result; over: 'lap' | 'run'; width: number } = $props()

  const HEIGHT = 178
  const LEFT = 40
  const RIGHT = 128
  const TOP = 24
  const BASE = 156
  const ROW = 14

  interface Curve {
    name: string
    along: number[]
    lost: number[]
  }
  const curves = $derived<Curve[]>(
    lanes.lines.map((line) =>
      over === 'run'
        ? { name: line.name, along: line.run_lost_s.map((_, lap) => lap), lost: line.run_lost_s }
        : { name: line.name, along: lanes.at_m, lost: line.along.lost_s },
    ),
  )
  const all = $derived(curves.flatMap((curve) => curve.lost))
  const x = $derived(
    scaleLinear(
      [0, Math.max(1, ...curves.map((one) => one.along.at(-1) ?? 0))],
      [LEFT, width - RIGHT],
    ),
  )
  const y = $derived(scaleLinear([Math.min(0, ...all), Math.max(0.05, ...all)], [BASE, TOP]))
  const drawn = (curve: Curve): string =>
    pathOf(thinned(curve.along.map((at, n) => ({ x: x(at), y: y(curve.lost[n] ?? 0) }))))
  /** Names beside the ends, moved apart where they would lie on each other. */
  const names = $derived.by(() => {
    const wanted = curves
      .map((curve) => ({
        name: curve.name,
        lost: curve.lost.at(-1) ?? 0,
        end: y(curve.lost.at(-1) ?? 0),
        y: y(curve.lost.at(-1) ?? 0) + 4,
      }))
      .sort((a, b) => a.y - b.y)
    let lowest = 0
    for (const one of wanted) {
      one.y = Math.max(one.y, lowest)
      lowest = one.y + ROW
    }
    const excess = lowest - ROW - (HEIGHT - 4)
    if (excess > 0) for (const one of wanted) one.y -= excess
    return wanted
  })
  const decimals = $derived(over === 'run' ? 1 : 3)
</script>

<figure>
  <figcaption class="unit">
    {over === 'run'
      ? 'Seconds lost to the quickest, by lap of the run'
      : 'Seconds lost to the quickest, along the first lap'}
  </figcaption>
  <svg
    class="max-w-full h-auto"
    {width}
    height={HEIGHT}
    viewBox="0 0 {width} {HEIGHT}"
    role="img"
    aria-label="{over === 'run' ? 'Lost over the run' : 'Lost along the first lap'}: {curves
      .map((curve) => `${curve.name} ${timeDifference(curve.lost.at(-1) ?? 0, decimals)} s`)
      .join(', ')}"
    data-testid="lanes-{over}"
  >
    {#each y.ticks(4) as tick (tick)}
      <path d="M{LEFT} {y(tick)}H{width - RIGHT}" stroke="var(--hair)" />
      <text x={LEFT - 6} y={y(tick) + 4} text-anchor="end" class="tick"
        >{timeDifference(tick, over === 'run' ? 0 : 2)}</text
      >
    {/each}
    {#if over === 'run'}
      {#each x.ticks(6) as tick (tick)}
        <text x={x(tick)} y={HEIGHT - 6} text-anchor="middle" class="tick">{plain(tick, 0)}</text>
      {/each}
    {:else}
      {#each result.corners as corner, number (number)}
        <path d="M{x(corner.apex_at_m)} {TOP}V{BASE}" stroke="var(--hair)" />
        <text x={x(corner.apex_at_m)} y={HEIGHT - 6} text-anchor="middle" class="tick"
          >{corner.name}</text
        >
      {/each}
    {/if}
    {#each curves as curve (curve.name)}
      <path
        d={drawn(curve)}
        fill="none"
        stroke={curve.name === chosen ? 'var(--ink)' : 'var(--coast)'}
        stroke-width={curve.name === chosen ? 2.6 : 1}
      />
    {/each}
    {#each names as one (one.name)}
      <path
        d="M{width - RIGHT + 2} {one.end}L{width - RIGHT + 9} {one.y - 4}"
        stroke="var(--rule)"
      />
      <text x={width - RIGHT + 12} y={one.y} class="tick" class:chosen={one.name === chosen}
        >{one.name}</text
      >
    {/each}
  </svg>
</figure>

<style>
  .chosen {
    font-weight: 700;
    fill: var(--ink);
  }
</style>
