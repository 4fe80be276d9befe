<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Axis, Grid } from '../api/client'
  import { lapTime, plain } from '../parts/format'
  import type { View } from '../state/view.svelte'

  /** Two figures at once: lap times as isobars, the plateau washed, what is not allowed hatched. */
  let {
    grid,
    view,
    width,
    height,
    at,
    choose,
  }: {
    grid: Grid
    view: View
    width: number
    height: number
    at: { column: number; row: number }
    choose: (column: number, row: number) => void
  } = $props()

  const LEFT = 74
  const RIGHT = 26
  const ABOVE = 28
  const BELOW = 42
  const APART = 46
  const units = $derived(view.units)
  const placeOn = (axis: Axis, value: number | string): number =>
    typeof value === 'string' ? axis.choices.indexOf(value) : value
  const xs = $derived(grid.x_values.map((value) => placeOn(grid.x, value)))
  const ys = $derived(grid.y_values.map((value) => placeOn(grid.y, value)))
  const ends = (all: number[]): [number, number] => [Math.min(...all), Math.max(...all)]
  const px = $derived(scaleLinear(ends(xs), [LEFT, width - RIGHT]))
  const py = $derived(scaleLinear(ends(ys), [height - BELOW, ABOVE]))
  /** The edges of the cells: half way to the neighbours. */
  function edges(values: number[]): number[] {
    const middles = values.slice(1).map((value, n) => (value + (values[n] ?? 0)) / 2)
    return [values[0] ?? 0, ...middles, values[values.length - 1] ?? 0]
  }
  const across = $derived(edges(xs).map((x) => px(x)))
  const upwards = $derived(edges(ys).map((y) => py(y)))
  function cells(flags: boolean[][]): { x: number; y: number; w: number; h: number }[] {
    return flags.flatMap((row, r) =>
      row.flatMap((flag, c) => {
        if (!flag) return []
        const x = across[c] ?? 0
        const y = upwards[r + 1] ?? 0
        return [{ x, y, w: (across[c + 1] ?? x) - x, h: (upwards[r] ?? y) - y }]
      }),
    )
  }
  const even = $derived(cells(grid.plateau))
  const shut = $derived(cells(grid.shut))
  const lines = $derived.by(() => {
    const taken: { x: number; y: number }[] = []
    return grid.isobars.map((line) => ({
      lap: line.lap_time_s,
      pieces: line.pieces.map((piece) => {
        const points = piece.x.map((x, n) => ({ x: px(x), y: py(piece.y[n] ?? 0) }))
        // A label sits on its own line, where no other one is near.
        const middle = Math.floor(points.length / 2)
        const order = points
          .map((point, n) => ({ point, far: Math.abs(n - middle) }))
          .sort((a, b) => a.far - b.far)
          .map(({ point }) => point)
        const label = order.find(
          ({ x, y }) =>
            x > LEFT + 30 &&
            x < width - RIGHT - 30 &&
            y > ABOVE + 10 &&
            y < height - BELOW - 8 &&
            taken.every((one) => Math.hypot(one.x - x, (one.y - y) * 2) > APART),
        )
        if (label && points.length > 2) taken.push(label)
        return {
          d: points
            .map(({ x, y }, n) => `${n === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`)
            .join(''),
          label: points.length > 2 ? label : undefined,
        }
      }),
    }))
  })
  const tick = (axis: Axis, value: number): string =>
    plain(units.show(value, axis.quantity), axis.decimals)
  const named = (axis: Axis): string => {
    const unit = units.unitFor(axis)
    return unit ? `${axis.label}, ${unit}` : axis.label
  }
  const spot = (cell: { column: number; row: number } | null | undefined) =>
    cell ? { x: px(xs[cell.column] ?? 0), y: py(ys[cell.row] ?? 0) } : null
  const best = $derived(spot(grid.best))
  const cursor = $derived(spot(at))
  const here = $derived.by(() => {
    const value = (axis: Axis): number | null =>
      axis.choices.length > 0
        ? axis.chosen === null || axis.chosen === undefined
          ? null
          : axis.choices.indexOf(axis.chosen)
        : (axis.present ?? null)
    const x = value(grid.x)
    const y = value(grid.y)
    return x === null || y === null ? null : { x: px(x), y: py(y) }
  })

  function nearest(event: PointerEvent): void {
    const box = (event.currentTarget as Element).getBoundingClientRect()
    const x = px.invert(((event.clientX - box.left) / box.width) * width)
    const y = py.invert(((event.clientY - box.top) / box.height) * height)
    const index = (all: number[], value: number): number =>
      all.reduce(
        (found, one, n) =>
          Math.abs(one - value) < Math.abs((all[found] ?? 0) - value) ? n : found,
        0,
      )
    choose(index(xs, x), index(ys, y))
  }
</script>

<svg
  class="block cursor-crosshair"
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  role="img"
  aria-label="Lap time over {grid.x.label} and {grid.y.label}"
  data-testid="isobar-plot"
  onpointerdown={nearest}
>
  <defs>
    <pattern
      id="land"
      width="6"
      height="6"
      patternUnits="userSpaceOnUse"
      patternTransform="rotate(45)"
    >
      <path d="M0 0V6" stroke="var(--coast)" stroke-width="1.4" />
    </pattern>
  </defs>
  {#each even as one, n (n)}
    <rect x={one.x} y={one.y} width={one.w} height={one.h} fill="var(--wash)" />
  {/each}
  {#each shut as one, n (n)}
    <rect x={one.x} y={one.y} width={one.w} height={one.h} fill="url(#land)" />
  {/each}
  {#if grid.x.choices.length > 0}
    {#each grid.x_values as value, n (n)}
      <text x={px(n)} y={height - BELOW + 17} text-anchor="middle" class="tick">{value}</text>
    {/each}
  {:else}
    {#each px.ticks(Math.max(3, Math.round(width / 100))) as value (value)}
      <path d="M{px(value)} {height - BELOW}v5" stroke="var(--ink)" />
      <text x={px(value)} y={height - BELOW + 18} text-anchor="middle" class="tick"
        >{tick(grid.x, value)}</text
      >
    {/each}
  {/if}
  {#if grid.y.choices.length > 0}
    {#each grid.y_values as value, n (n)}
      <text x={LEFT - 8} y={py(n) + 4} text-anchor="end" class="tick">{value}</text>
    {/each}
  {:else}
    {#each py.ticks(6) as value (value)}
      <path d="M{LEFT} {py(value)}h-5" stroke="var(--ink)" />
      <text x={LEFT - 8} y={py(value) + 4} text-anchor="end" class="tick"
        >{tick(grid.y, value)}</text
      >
    {/each}
  {/if}
  <path
    d="M{LEFT} {ABOVE}V{height - BELOW}H{width - RIGHT}"
    fill="none"
    stroke="var(--ink)"
    stroke-width="1.4"
  />
  {#each lines as line (line.lap)}
    {#each line.pieces as piece, n (n)}
      <path d={piece.d} class="isobar" />
    {/each}
  {/each}
  {#each lines as line (line.lap)}
    {#each line.pieces as piece, n (n)}
      {#if piece.label}
        <text x={piece.label.x} y={piece.label.y + 5} text-anchor="middle" class="lap"
          >{lapTime(line.lap).replace(/0$/, '')}</text
        >
      {/if}
    {/each}
  {/each}
  {#if here}
    <circle cx={here.x} cy={here.y} r="5" fill="none" stroke="var(--ink)" stroke-width="1.6" />
    <text
      x={here.x + (here.x > width - 100 ? -9 : 9)}
      y={here.y - 8}
      text-anchor={here.x > width - 100 ? 'end' : 'start'}
      class="word">the plan</text
    >
  {/if}
  {#if best}
    <path
      d="M{best.x - 9} {best.y}h18M{best.x} {best.y - 9}v18"
      stroke="var(--cool)"
      stroke-width="2.6"
    />
  {/if}
  {#if cursor}
    <path
      d="M{cursor.x - 5} {cursor.y - 5}h10v10h-10z"
      fill="none"
      stroke="var(--cool)"
      stroke-width="1.6"
    />
  {/if}
  <text x={width - RIGHT} y={height - 5} text-anchor="end" class="tick">{named(grid.x)}</text>
  <text x="0" y="14" class="tick">{named(grid.y)}</text>
</svg>

<style>
  .tick,
  .word {
    font-size: 13px;
    fill: var(--ink-2);
  }
  .word {
    font-family: var(--figures);
    font-style: italic;
    font-size: 15px;
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 3px;
  }
  .isobar {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.4;
  }
  .lap {
    font-family: var(--figures);
    font-size: 14px;
    font-weight: 600;
    fill: var(--ink);
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 5px;
  }
</style>
