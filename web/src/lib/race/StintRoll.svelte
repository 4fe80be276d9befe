<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Race, RacePlan } from '../api/client'
  import { lapTime, plain, timeDifference } from '../parts/format'
  import type { Units } from '../parts/units'

  /**
   * The race as a tide table: laps are the measure, stints are rows in it, a double rule is a stop.
   * Over them the lap times; under them the fuel as it falls and rises. Others to the same measure.
   */
  let { race, width, units }: { race: Race; width: number; units: Units } = $props()

  const LEFT = 74
  const RIGHT = 14
  const TIMES = 118
  const ROW = 26
  const FUEL = 60
  const best = $derived(race.best)
  const others = $derived(race.others.slice(0, 4))
  const laps = $derived(race.laps_told)
  const x = $derived(scaleLinear([0, race.laps], [LEFT, width - RIGHT]))
  /** First laps on cold tyres would hide all the others. */
  const times = $derived.by((): [number, number] => {
    const sorted = laps.map((lap) => lap.time_s).sort((a, b) => a - b)
    const low = sorted[0] ?? 0
    const high = sorted[Math.floor(sorted.length * 0.97)] ?? low + 1
    return [low - 0.05 * (high - low + 0.1), high + 0.12 * (high - low + 0.1)]
  })
  const y = $derived(scaleLinear(times, [TIMES - 8, 18]).clamp(true))
  const mass = (kg: number): number => units.show(kg, 'mass')
  const most = $derived(Math.max(1, ...laps.map((lap) => mass(lap.fuel_kg))))
  const top = $derived(TIMES + ROW + 14)
  const fuel = $derived(scaleLinear([0, most], [top + FUEL, top + 8]))
  const height = $derived(top + FUEL + 26 + others.length * ROW)
  const line = (of: (lap: (typeof laps)[number]) => number): string =>
    laps
      .map((lap, n) => `${n === 0 ? 'M' : 'L'}${x(lap.lap - 0.5).toFixed(1)} ${of(lap).toFixed(1)}`)
      .join('')
  const ticks = $derived(x.ticks(Math.max(4, Math.round(width / 110))))
  const names = $derived([...new Set(race.tyres.map((tyre) => tyre.name))])
  /** A compound is told by its word, and by how heavy the line under it is. */
  const weight = (name: string): number => 1.6 + 1.7 * names.indexOf(name)
</script>

{#snippet row(plan: RacePlan, at: number, label: string)}
  <text x="0" y={at + 17} class="label">{label}</text>
  {#each plan.stints as stint, n (n)}
    {@const from = x(stint.from_lap - 1)}
    {@const to = x(stint.to_lap)}
    <path
      d="M{from + 3} {at + ROW - 5}H{to - 3}"
      stroke="var(--ink)"
      stroke-width={weight(stint.compound)}
    />
    {#if to - from > 26}
      <text x={(from + to) / 2} y={at + 15} text-anchor="middle" class="place tyre"
        >{to - from > 70
          ? stint.compound
          : stint.compound.slice(0, Math.max(1, Math.floor((to - from) / 9)))}</text
      >
    {/if}
    {#if n > 0}
      <path d="M{from - 1.5} {at}V{at + ROW - 2}M{from + 1.5} {at}V{at + ROW - 2}" class="stop" />
    {/if}
  {/each}
{/snippet}

<svg
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  role="img"
  aria-label="The race lap by lap: lap times, stints with their tyres and stops, fuel on board{others.length >
  0
    ? ', and other plans'
    : ''}"
  data-testid="stint-roll"
>
  <text x="0" y="12" class="label">Lap time</text>
  {#each y.ticks(4) as tick (tick)}
    <path d="M{LEFT} {y(tick)}H{width - RIGHT}" stroke="var(--hair)" />
    <text x={LEFT - 6} y={y(tick) + 4} text-anchor="end" class="tick"
      >{lapTime(tick).slice(0, -2)}</text
    >
  {/each}
  <path d={line((lap) => y(lap.time_s))} class="times" />
  {#if best}
    {@render row(best, TIMES, 'Stints')}
    {#each best.stops as stop (stop)}
      <path d="M{x(stop)} 14V{TIMES}" stroke="var(--rule)" />
      <text x={x(stop) + 4} y={TIMES - 4} class="tick">{stop}</text>
    {/each}
  {/if}
  <text x="0" y={top + FUEL / 2 + 8} class="label">Fuel {units.unitOf('mass')}</text>
  {#each [0, most] as tick (tick)}
    <path d="M{LEFT} {fuel(tick)}H{width - RIGHT}" stroke="var(--hair)" />
    <text x={LEFT - 6} y={fuel(tick) + 4} text-anchor="end" class="tick">{plain(tick, 0)}</text>
  {/each}
  <path d={line((lap) => fuel(mass(lap.fuel_kg)))} class="fuel" />
  <path d="M{LEFT} {top + FUEL + 6}H{width - RIGHT}" stroke="var(--ink)" />
  {#each ticks as tick (tick)}
    <text x={x(tick)} y={top + FUEL + 21} text-anchor="middle" class="tick"
      >{tick === 0 ? 'lap' : tick}</text
    >
  {/each}
  {#each others as other, n (n)}
    {@render row(other, top + FUEL + 26 + n * ROW, `${timeDifference(other.behind_s, 1)} s`)}
  {/each}
</svg>

<style>
  .label {
    font-family: var(--figures);
    font-size: 15px;
    font-weight: 600;
    fill: var(--ink);
  }
  .tyre {
    font-size: 15px;
    fill: var(--ink);
  }
  .times {
    fill: none;
    stroke: var(--ink);
    stroke-width: 2.2;
  }
  .fuel {
    fill: none;
    stroke: var(--coast);
    stroke-width: 1.8;
    stroke-dasharray: 5 3;
  }
  .stop {
    stroke: var(--ink);
    stroke-width: 1.2;
  }
</style>
