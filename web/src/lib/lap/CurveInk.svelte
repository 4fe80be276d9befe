<script lang="ts">
  import { pathOf, thinned, type Pedals, type Point, type Stretch } from '../curve/geometry'

  /**
   * The curve itself, one path for each state of the pedals: echoed downwards under power, hatched
   * where it brakes, dotted where it rolls; the baseline lies under it, dashed.
   */
  let {
    line,
    ghost,
    runs,
    width,
    base,
  }: { line: Point[]; ghost: Point[]; runs: Stretch[]; width: number; base: number } = $props()

  // Two curves may stand on one page, each cut off at its own base.
  const clip = $props.id()
  const ECHOES = 7
  const INKS: { pedals: Pedals; colour: string; wide: number }[] = [
    { pedals: 'power', colour: 'var(--cool)', wide: 2.6 },
    { pedals: 'part', colour: 'var(--ink)', wide: 2.6 },
    { pedals: 'coast', colour: 'var(--coast)', wide: 2.6 },
    { pedals: 'brake', colour: 'var(--ember)', wide: 3.4 },
  ]

  const partsOf = (pedals: Pedals): Point[][] =>
    runs
      .filter((run) => run.pedals === pedals)
      .map((run) => thinned(line.slice(run.from, run.to + 1)))
  const parts = $derived({
    power: partsOf('power'),
    part: partsOf('part'),
    coast: partsOf('coast'),
    brake: partsOf('brake'),
  })
  const paths = $derived({
    power: parts.power.map(pathOf).join(''),
    part: parts.part.map(pathOf).join(''),
    coast: parts.coast.map(pathOf).join(''),
    brake: parts.brake.map(pathOf).join(''),
  })

  /** A wedge under a stretch, down to its own lowest speed. */
  function wedge(top: Point[]): string {
    const first = top[0]
    if (!first) return ''
    const low = Math.max(...top.map((p) => p.y))
    return `${pathOf(top)}L${first.x.toFixed(1)} ${low.toFixed(1)}Z`
  }
</script>

<clipPath id={clip}><rect x="0" y="0" {width} height={Math.max(base, 0)} /></clipPath>
<g clip-path="url(#{clip})" fill="none" stroke="var(--cool)">
  {#each Array.from({ length: ECHOES }, (_, index) => index + 1) as echo (echo)}
    <path
      d={paths.power}
      transform="translate(0 {echo * 8})"
      stroke-width="1.1"
      stroke-opacity={0.75 - echo * 0.095}
    />
  {/each}
</g>
<path d={parts.brake.map(wedge).join('')} fill="url(#hatch)" />
<path d={parts.coast.map(wedge).join('')} fill="url(#dots)" />
{#if ghost.length > 0}
  <path
    d={pathOf(thinned(ghost))}
    fill="none"
    stroke="var(--ink-2)"
    stroke-width="1.3"
    stroke-dasharray="5 3"
    data-testid="baseline-curve"
  />
{/if}
{#each INKS as ink (ink.pedals)}
  <path
    d={paths[ink.pedals]}
    fill="none"
    stroke={ink.colour}
    stroke-width={ink.wide}
    stroke-linecap="round"
    stroke-linejoin="round"
  />
{/each}
