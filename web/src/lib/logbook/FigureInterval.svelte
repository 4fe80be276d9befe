<script lang="ts">
  import type { FitFound } from '../api/client'

  /** A figure's interval before, as a hair line about nothing, and now, as a bar where it lies. */
  let { figure }: { figure: FitFound['figures'][number] } = $props()

  const HALF = 62
  const reach = $derived(
    1.1 * Math.max(figure.stated_within, Math.abs(figure.value) + figure.within, 1e-6),
  )
  const x = (value: number): number => HALF + (value / reach) * HALF
</script>

<svg width={2 * HALF} height="16" aria-hidden="true">
  <path d="M{HALF} 0V16" stroke="var(--rule)" />
  <path
    d="M{x(-figure.stated_within)} 3V13M{x(figure.stated_within)} 3V13M{x(
      -figure.stated_within,
    )} 8H{x(figure.stated_within)}"
    stroke="var(--ink-2)"
    fill="none"
  />
  <path
    d="M{x(figure.value - figure.within)} 8H{x(figure.value + figure.within)}"
    stroke="var(--ink)"
    stroke-width="6"
  />
  <path d="M{x(figure.value)} 1V15" stroke="var(--ink)" stroke-width="2" />
</svg>
