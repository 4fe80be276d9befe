<script lang="ts">
  import type { ImportPreview } from '../api/client'

  /** The points as they came, and the straights and corners they became. */
  let { preview, width, height }: { preview: ImportPreview; width: number; height: number } =
    $props()

  interface Way {
    x_m: number[]
    y_m: number[]
  }
  const MARGIN = 26
  const box = $derived.by(() => {
    let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity]
    for (const way of [preview.points, preview.fitted])
      way.x_m.forEach((x, index) => {
        const y = -(way.y_m[index] ?? 0)
        left = Math.min(left, x)
        right = Math.max(right, x)
        top = Math.min(top, y)
        bottom = Math.max(bottom, y)
      })
    return { left, right, top, bottom }
  })
  const scale = $derived(
    Math.min(
      (width - 2 * MARGIN) / Math.max(box.right - box.left, 1),
      (height - 2 * MARGIN) / Math.max(box.bottom - box.top, 1),
    ),
  )
  const px = (x: number): number => width / 2 + (x - (box.left + box.right) / 2) * scale
  const py = (y: number): number => height / 2 + (-y - (box.top + box.bottom) / 2) * scale
  function path(way: Way): string {
    return way.x_m
      .map(
        (x, index) =>
          `${index === 0 ? 'M' : 'L'}${px(x).toFixed(1)} ${py(way.y_m[index] ?? 0).toFixed(1)}`,
      )
      .join('')
  }
  const dots = $derived(
    preview.points.x_m
      .map((x, index) => `M${px(x).toFixed(1)} ${py(preview.points.y_m[index] ?? 0).toFixed(1)}h0`)
      .join(''),
  )
  const middle = $derived({
    x: (box.left + box.right) / 2,
    y: -(box.top + box.bottom) / 2,
  })
</script>

<svg
  {width}
  {height}
  role="img"
  aria-label="The points of the file, and the {preview.corners
    .length} corners found in them; north is up"
  data-testid="import-map"
>
  <path d={dots} stroke="var(--coast)" stroke-width="2.6" stroke-linecap="round" opacity="0.55" />
  <path
    d={`${path(preview.fitted)}${preview.closed ? 'Z' : ''}`}
    fill="none"
    stroke="var(--ink)"
    stroke-width="1.8"
  />
  {#each preview.corners as corner, index (index)}
    {@const away = Math.hypot(corner.x_m - middle.x, corner.y_m - middle.y) || 1}
    <text
      x={px(corner.x_m) + ((corner.x_m - middle.x) / away) * 14}
      y={py(corner.y_m) - ((corner.y_m - middle.y) / away) * 14 + 4}
      text-anchor="middle"
      font-size="13"
      font-weight="600"
      fill="var(--ink)">{index + 1}</text
    >
  {/each}
</svg>
