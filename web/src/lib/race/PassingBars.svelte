<script lang="ts">
  import { plain } from '../parts/format'
  import type { Units } from '../parts/units'

  /** How much later than the car ahead one must brake at each place, against how much one may. */
  let {
    places,
    most_m,
    units,
  }: {
    places: { corner: number; name: string; later_needed_m: number; possible: boolean }[]
    most_m: number
    units: Units
  } = $props()

  const WIDTH = 560
  const LEFT = 150
  /** Kept free for the figure behind the longest bar. */
  const RIGHT = 130
  const ROW = 24
  const TOP = 22
  /** Bars beyond so many times what may be braked later end in an arrow. */
  const SHOWN_TIMES = 5
  const limit = $derived(Math.max(most_m, 1))
  const x = (m: number): number =>
    LEFT + ((WIDTH - LEFT - RIGHT) * Math.min(m, SHOWN_TIMES * limit)) / (SHOWN_TIMES * limit)
  const height = $derived(TOP + places.length * ROW + 6)
  const spoken = $derived(
    places.map((place) => `${place.name} ${said(place.later_needed_m)}`).join(', '),
  )
  const said = (m: number): string => `${plain(units.length(m), 0)} ${units.lengthUnit}`
</script>

<svg
  width={WIDTH}
  {height}
  viewBox="0 0 {WIDTH} {height}"
  class="max-w-full"
  role="img"
  aria-label="Later braking needed: {spoken}"
  data-testid="passing-bars"
>
  <rect
    x={LEFT}
    y={TOP - 4}
    width={x(limit) - LEFT}
    height={places.length * ROW}
    fill="var(--wash)"
  />
  <path d="M{x(limit)} {TOP - 8}V{height - 4}" stroke="var(--ink)" stroke-dasharray="4 3" />
  <text x={x(limit)} y={TOP - 10} text-anchor="middle" class="tick">possible to {said(limit)}</text>
  {#each places as place, n (place.corner)}
    {@const y = TOP + n * ROW + ROW / 2}
    <g>
      <text x={LEFT - 8} y={y + 3} text-anchor="end" class="name"
        >{place.corner + 1} {place.name}</text
      >
      <path
        d="M{LEFT} {y}H{x(place.later_needed_m)}"
        stroke={place.possible ? 'var(--ink)' : 'var(--coast)'}
        stroke-width={place.possible ? 9 : 5}
      />
      {#if place.later_needed_m > SHOWN_TIMES * limit}
        <path d="M{x(place.later_needed_m)} {y - 6}l7 6l-7 6" fill="var(--coast)" />
      {/if}
      <text x={x(place.later_needed_m) + 12} y={y + 4} class="tick"
        >{said(place.later_needed_m)}{place.possible ? '' : ' needed'}</text
      >
    </g>
  {/each}
</svg>

<style>
  .name {
    font: 600 14px var(--labels);
    fill: var(--ink);
  }
  .tick {
    font: 13px var(--labels);
    fill: var(--ink-2);
  }
</style>
