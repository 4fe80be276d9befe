<script lang="ts">
  import type { ImportPreview } from '../api/client'

  /** Curvature of the smoothed line along it: what the smoothing leaves of each corner. */
  let { preview, width }: { preview: ImportPreview; width: number } = $props()

  const HEIGHT = 64
  const most = $derived(Math.max(preview.sharpest_per_m, 0.002))
  const line = $derived(
    preview.curvature_at_m
      .map((at, index) => {
        const x = (at / preview.length_m) * width
        const y = HEIGHT / 2 - ((preview.curvature_per_m[index] ?? 0) / most) * (HEIGHT / 2 - 3)
        return `${index === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`
      })
      .join(''),
  )
</script>

<svg {width} height={HEIGHT} role="img" aria-label="Curvature of the smoothed line along the lap">
  <path d="M0 {HEIGHT / 2}H{width}" stroke="var(--rule)" />
  <path d={line} fill="none" stroke="var(--ink)" stroke-width="1.6" />
  <text x="0" y="12" font-size="13" fill="var(--ink-2)">left</text>
  <text x="0" y={HEIGHT - 3} font-size="13" fill="var(--ink-2)">right</text>
</svg>
