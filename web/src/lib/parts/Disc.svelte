<script lang="ts">
  /** Which way a corner turns (the lit side) and how far (the lit share, a half-turn lights all). */
  let {
    direction,
    angleDeg,
    size = 18,
    inverted = false,
  }: { direction: 'left' | 'right'; angleDeg: number; size?: number; inverted?: boolean } = $props()

  const share = $derived(Math.min(angleDeg / 180, 1))
  const radius = 8
  const width = $derived(2 * radius * share)
  const left = $derived(direction === 'right' ? radius - width : -radius)
  const id = $props.id()
  const color = $derived(inverted ? 'var(--paper)' : 'var(--ink)')
</script>

<svg
  width={size}
  height={size}
  viewBox="-9 -9 18 18"
  role="img"
  aria-label="{direction}, {Math.round(angleDeg)} degrees"
>
  <clipPath {id}><rect x={left} y={-radius} {width} height={2 * radius} /></clipPath>
  <circle r={radius} fill={color} clip-path="url(#{id})" />
  <circle r={radius} fill="none" stroke={color} stroke-width="1.5" />
</svg>
