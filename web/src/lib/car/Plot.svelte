<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { PlotData } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { plain } from '../parts/format'
  import { shownUnit, shownValue } from './quantities'

  /** One of the car’s plots: curves over a quantity, each named at its end. */
  let {
    data,
    view,
    width,
    height,
    files,
  }: {
    data: PlotData
    view: View
    width: number
    height: number
    /** Address of the plot as a file, without its ending. */
    files?: string
  } = $props()

  const LEFT = 48
  const BELOW = 34
  const ABOVE = 26
  const RIGHT = 104
  const ROW = 15
  const DASHES = ['', '7 4', '2 3', '11 3 2 3', '4 4', '1 4', '14 4', '6 2 2 2']
  const units = $derived(view.units)
  const around = $derived(data.plot === 'envelope')
  const sx = (x: number): number => shownValue(units, data.x_quantity, x)
  const sy = (y: number): number => shownValue(units, data.y_quantity, y)
  const xs = $derived(data.series.flatMap((one) => one.x.map(sx)))
  const ys = $derived(data.series.flatMap((one) => one.y.map(sy)))
  const shares = $derived(data.y_quantity === 'share')
  const box = $derived({
    left: Math.min(...xs),
    right: Math.max(...xs),
    low: shares ? Math.max(0, Math.min(...ys) - 0.03) : Math.min(0, ...ys),
    high: Math.max(...ys) * (shares ? 1.02 : 1.06),
  })
  const px = $derived(scaleLinear([box.left, box.right], [LEFT, width - RIGHT]))
  const py = $derived(scaleLinear([box.low, box.high], [height - BELOW, ABOVE]))

  function path(series: PlotData['series'][number]): string {
    return series.x
      .map(
        (x, index) =>
          `${index === 0 ? 'M' : 'L'}${px(sx(x)).toFixed(1)} ${py(sy(series.y[index] ?? 0)).toFixed(1)}`,
      )
      .join('')
  }
  /** Stretches of a curve with one reason each. */
  function stretches(series: PlotData['series'][number]): { part: string; d: string }[] {
    const found: { part: string; d: string }[] = []
    series.x.forEach((x, index) => {
      const part = series.part?.[index] ?? ''
      const at = `${px(sx(x)).toFixed(1)} ${py(sy(series.y[index] ?? 0)).toFixed(1)}`
      const last = found[found.length - 1]
      if (last?.part === part) last.d += `L${at}`
      else {
        if (last) last.d += `L${at}`
        found.push({ part, d: `M${at}` })
      }
    })
    return found
  }
  /** Names beside the ends of the curves, moved apart where they would lie on each other. */
  const labels = $derived.by(() => {
    const wanted = data.series
      .map((series, index) => {
        const last = around ? topOf(series) : series.x.length - 1
        return {
          index,
          text: series.name,
          x: px(sx(series.x[last] ?? 0)),
          y: py(sy(series.y[last] ?? 0)) + 4,
        }
      })
      .filter((one) => one.text !== '' && data.series[one.index]?.x.length)
      .sort((a, b) => a.y - b.y)
    let lowest = ABOVE
    for (const one of wanted) {
      one.y = Math.max(one.y, lowest)
      lowest = one.y + ROW
    }
    const over = lowest - ROW - (height - BELOW)
    if (over > 0) for (const one of wanted) one.y -= over
    return wanted
  })
  function topOf(series: PlotData['series'][number]): number {
    return series.y.reduce(
      (best, y, index) => (y > (series.y[best] ?? -Infinity) ? index : best),
      0,
    )
  }
  const PARTS = [
    { part: 'tyres', text: 'tyres', dash: '' },
    { part: 'engine', text: 'engine', dash: '9 3' },
    { part: 'brakes', text: 'brakes’ own limit', dash: '2 3' },
    { part: 'lift', text: 'a wheel lifts', dash: '1 4' },
  ]
  const parts = $derived(
    PARTS.filter((one) => data.series.some((series) => series.part?.includes(one.part))),
  )
  const strong = (name: string): boolean =>
    name !== '' && !/^(gear \d|drag|rev limit|tyre limit)/.test(name)
</script>

<figure>
  <figcaption class="figure text-[18px]">{data.title}</figcaption>
  <svg
    class="inline-block"
    {width}
    {height}
    role="img"
    aria-label={data.title}
    data-testid="plot-{data.plot}"
  >
    {#each px.ticks(6) as tick (tick)}
      <path d="M{px(tick)} {height - BELOW}V{ABOVE}" stroke="var(--hair)" />
      <text x={px(tick)} y={height - BELOW + 15} text-anchor="middle" class="tick"
        >{plain(tick, 2)}</text
      >
    {/each}
    {#each py.ticks(5) as tick (tick)}
      <path d="M{LEFT} {py(tick)}H{width - RIGHT}" stroke="var(--hair)" />
      <text x={LEFT - 6} y={py(tick) + 4} text-anchor="end" class="tick">{plain(tick, 2)}</text>
    {/each}
    <path d="M{LEFT} {py(Math.max(box.low, 0))}H{width - RIGHT}" stroke="var(--ink)" />
    {#each data.series as series, index (index)}
      {#if series.part}
        {#each stretches(series) as one, stretch (stretch)}
          <path
            d={one.d}
            class="curve"
            stroke-width={1.2 + 0.3 * index}
            stroke-dasharray={PARTS.find(({ part }) => part === one.part)?.dash ?? ''}
          />
        {/each}
      {:else}
        <path
          d={path(series)}
          class="curve"
          class:weak={!strong(series.name)}
          stroke-width={strong(series.name) ? 2.2 : 1.3}
          stroke-dasharray={strong(series.name) ? (DASHES[index % 3] ?? '') : ''}
        />
      {/if}
    {/each}
    {#each labels as one (one.index)}
      {#if !around}
        <path
          d="M{one.x + 2} {py(sy(data.series[one.index]?.y.at(-1) ?? 0))}L{width -
            RIGHT +
            6} {one.y - 4}"
          stroke="var(--rule)"
        />
      {/if}
      <text
        x={around ? one.x : width - RIGHT + 9}
        y={around ? one.y - 8 : one.y}
        text-anchor={around ? 'middle' : 'start'}
        class="name">{one.text}</text
      >
    {/each}
    {#each data.marks as mark, index (index)}
      <circle cx={px(sx(mark.x))} cy={py(sy(mark.y))} r="3.4" class="mark" />
      <text x={px(sx(mark.x)) - 5} y={py(sy(mark.y)) - 6} text-anchor="end" class="tick"
        >{mark.text}</text
      >
    {/each}
    <text x={width - RIGHT} y={height - 3} text-anchor="end" class="tick"
      >{data.x_label} {shownUnit(units, data.x_quantity)}</text
    >
    <text x="0" y="12" class="tick">{data.y_label} {shownUnit(units, data.y_quantity)}</text>
  </svg>
  {#if parts.length > 0 || files}
    <p class="unit gap-3.5 flex items-baseline flex-wrap">
      {#each parts as one (one.part)}
        <span
          ><svg class="inline-block" width="30" height="8" aria-hidden="true"
            ><path
              d="M0 4H28"
              stroke="var(--ink)"
              stroke-width="1.8"
              stroke-dasharray={one.dash}
            /></svg
          >
          {one.text}</span
        >
      {/each}
      {#if files}
        <a class="link" href="{files}.csv" download>CSV</a>
        <a class="link" href="{files}.svg" download>SVG</a>
      {/if}
    </p>
  {/if}
</figure>

<style>
  .name {
    font-size: 13px;
    fill: var(--ink);
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 3px;
  }
  .curve {
    fill: none;
    stroke: var(--ink);
    stroke-linejoin: round;
  }
  .weak {
    stroke: var(--ink-2);
  }
  .mark {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 1.6;
  }
</style>
