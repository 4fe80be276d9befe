<script lang="ts">
  import type { Pedals, Stretch } from '../curve/geometry'

  /** What the pedals do along the lap, as a ribbon under the curve: each state its own texture. */
  let { runs, xs, width, top }: { runs: Stretch[]; xs: number[]; width: number; top: number } =
    $props()

  const NARROWEST = 0.6
  const spans = (pedals: Pedals): [number, number][] =>
    runs
      .filter((run) => run.pedals === pedals)
      .map((run): [number, number] => [xs[run.from] ?? 0, xs[run.to] ?? 0])
      .filter(([left, right]) => right - left > NARROWEST)
  const boxes = (found: [number, number][]): string =>
    found
      .map(([left, right]) => `M${left.toFixed(1)} 1H${right.toFixed(1)}V11H${left.toFixed(1)}Z`)
      .join('')
  const brake = $derived(boxes(spans('brake')))
  const coast = $derived(boxes(spans('coast')))
  const part = $derived(spans('part'))
</script>

<g transform="translate(0 {top})">
  <path d="M0 6H{width}" stroke="var(--cool)" stroke-width="1.6" />
  <path d={brake + coast + boxes(part)} fill="var(--paper)" />
  <path d={brake} fill="url(#hatch)" stroke="var(--ember)" />
  <path d={coast} fill="url(#dots)" />
  <path d={part.map(([left, right]) => `M${left} 6H${right}`).join('')} stroke="var(--ink)" />
</g>
