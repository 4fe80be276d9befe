<script lang="ts">
  import { pathOf, thinned } from '../curve/geometry'

  /** The running time difference to the baseline along the lap, slower upwards. */
  let {
    seconds,
    xs,
    width,
    top,
    height,
  }: { seconds: number[]; xs: number[]; width: number; top: number; height: number } = $props()

  /** A difference smaller than this is not blown up to the strip's whole height [s]. */
  const LEAST_SPAN_S = 0.02

  const most = $derived(seconds.reduce((a, b) => Math.max(a, b), 0))
  const least = $derived(seconds.reduce((a, b) => Math.min(a, b), 0))
  const y = $derived((value: number): number => {
    return top + ((most - value) / Math.max(most - least, LEAST_SPAN_S)) * height
  })
  const curve = $derived(
    pathOf(thinned(seconds.map((value, index) => ({ x: xs[index] ?? 0, y: y(value) })))),
  )
  const zero = $derived(y(0))
</script>

<g data-testid="time-difference">
  <path d="M0 {zero}H{width}" stroke="var(--rule)" />
  <path d="{curve}V{zero}H0Z" fill="url(#difference)" stroke="none" />
  <path d={curve} fill="none" stroke="var(--ink)" stroke-width="1.4" />
</g>
