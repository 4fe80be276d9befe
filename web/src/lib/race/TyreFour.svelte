<script lang="ts">
  import { plain } from '../parts/format'

  /** The work of each tyre at its place on the vehicle, seen from above: the fuller, the more. */
  let { tyres, each, hardest }: { tyres: string[]; each: number[]; hardest: number } = $props()

  const WIDTH = 190
  const HEIGHT = 176
  const TYRE = { wide: 22, long: 52 }
  const PLACES = [
    { x: 46, y: 18 },
    { x: 122, y: 18 },
    { x: 46, y: 104 },
    { x: 122, y: 104 },
  ]
  const sum = $derived(
    Math.max(
      each.reduce((all, one) => all + one, 0),
      1e-9,
    ),
  )
  const most = $derived(Math.max(...each, 1e-9))
  const share = (n: number): number => (100 * (each[n] ?? 0)) / sum
  const spoken = $derived(tyres.map((tyre, n) => `${tyre} ${plain(share(n), 0)} %`).join(', '))
</script>

<svg
  width={WIDTH}
  height={HEIGHT}
  viewBox="0 0 {WIDTH} {HEIGHT}"
  role="img"
  aria-label="Share of the work: {spoken}"
  data-testid="tyre-four"
>
  <path
    d="M72 10C84 4 106 4 118 10V160C106 166 84 166 72 160Z M68 44H122M68 130H122"
    fill="none"
    stroke="var(--coast)"
  />
  {#each PLACES as place, n (n)}
    {@const full = (TYRE.long * (each[n] ?? 0)) / most}
    <rect
      x={place.x}
      y={place.y}
      width={TYRE.wide}
      height={TYRE.long}
      rx="3"
      fill="var(--leaf)"
      stroke="var(--ink)"
      stroke-width={n === hardest ? 2.4 : 1}
    />
    <rect
      x={place.x}
      y={place.y + TYRE.long - full}
      width={TYRE.wide}
      height={full}
      rx="3"
      fill={n === hardest ? 'var(--ink)' : 'var(--coast)'}
    />
    <text
      x={n % 2 === 0 ? place.x - 6 : place.x + TYRE.wide + 6}
      y={place.y + TYRE.long / 2 + 6}
      text-anchor={n % 2 === 0 ? 'end' : 'start'}
      class="share">{plain(share(n), 0)}%</text
    >
  {/each}
</svg>

<style>
  .share {
    font: 600 17px var(--figures);
    fill: var(--ink);
  }
</style>
