<script lang="ts">
  import type { Comparison, LapWords, PlanBands, Result } from '../api/client'
  import type { View } from '../state/view.svelte'
  import {
    highAt,
    indexAt,
    pathOf,
    points,
    scales,
    speedAt,
    stretches,
    thinned,
    ticks,
    tickStep,
    type Frame,
  } from '../curve/geometry'
  import { boxesOf, placeHighs, placeLows, type Wanted } from '../curve/labels'
  import { SIZES, textWidths } from '../curve/faces.svelte'
  import CurveInk from './CurveInk.svelte'
  import DifferenceStrip from './DifferenceStrip.svelte'
  import PedalRibbon from './PedalRibbon.svelte'
  import { lapTime, timeDifference, whole } from '../parts/format'

  /**
   * The lap as a tide curve over true distance: highs where the throttle is shut, lows where the
   * corners are slowest. Every state of the pedals has a texture besides its colour.
   */
  let {
    result,
    words,
    comparison,
    view,
    frame,
    height,
    columnX,
    bands = null,
    flare = null,
  }: {
    result: Result
    words: LapWords | null
    comparison: Comparison | null
    view: View
    frame: Frame
    height: number
    /** Middle of each corner's column in the table [px]; empty where there is no table of columns. */
    columnX: number[]
    /** The 10-90 band of the speed, at the positions of the trace. */
    bands?: PlanBands | null
    /** The stretch [m] that a sheet under the curve opens out of, and the sheet's left end [px]. */
    flare?: { from: number; to: number; left: number } | null
  } = $props()

  const DENSE_FROM = 15
  const trace = $derived(result.trace)
  const units = $derived(view.units)
  const width = $derived(frame.width)
  const base = $derived(frame.base)
  const dense = $derived(result.corners.length >= DENSE_FROM)
  const size = $derived(dense ? { figure: 15, place: null } : { figure: 19, place: 16 })
  const sizeOf = $derived({
    high: dense ? SIZES.denseHigh : SIZES.high,
    low: dense ? SIZES.denseLow : SIZES.low,
  })
  const scale = $derived(
    scales([...trace.v_ms, ...(comparison?.base_speed_ms ?? [])], result.length_m, frame, units),
  )
  const step = $derived(tickStep(scale.low, scale.high))
  const xs = $derived(trace.s_m.map((at) => scale.x(at)))
  const line = $derived(points(xs, trace.v_ms, scale))
  const ghost = $derived(
    comparison?.base_speed_ms ? points(xs, comparison.base_speed_ms, scale) : [],
  )
  const runs = $derived(stretches(trace))
  const bandPath = $derived.by(() => {
    const band = bands?.trace
    if (!band || band.s_m.length !== trace.s_m.length) return ''
    const low = thinned(points(xs, band.low_v_ms, scale))
    const high = thinned(points(xs, band.high_v_ms, scale))
    return `${pathOf(high)}L${pathOf([...low].reverse()).slice(1)}Z`
  })
  const corners = $derived(result.corners.map((corner, number) => ({ corner, number })))

  type Said = Wanted & { number: number; figure: string; place: string; brakes: boolean }

  /** Labels with the widths of their two lines, all measured together. */
  function withWidths(
    labels: Omit<Said, 'figureWidth' | 'placeWidth'>[],
    figureSize: number,
  ): Said[] {
    const figures = labels.map(({ figure }) => {
      return { text: figure, face: 'figure' as const, size: figureSize }
    })
    const places = labels.map(({ place }) => {
      return { text: place, face: 'place' as const, size: SIZES.place }
    })
    const widths = textWidths([...figures, ...places])
    return labels.map((label, n) => ({
      ...label,
      figureWidth: widths[n] ?? 0,
      placeWidth: widths[labels.length + n] ?? 0,
    }))
  }
  const highs = $derived.by((): Said[] => {
    const labels = corners.flatMap(({ corner, number }) => {
      const at = highAt(corner)
      if (at === null || (corner.action !== 'brake' && corner.action !== 'lift')) return []
      const speed = speedAt(trace, at)
      return [
        {
          id: `high-${number}`,
          number,
          figure: whole(units.speed(speed)),
          place: words?.corners[number]?.label ?? '',
          brakes: corner.action === 'brake',
          anchor: { x: scale.x(at), y: scale.y(speed) },
          weight: speed - corner.min_speed_ms,
        },
      ]
    })
    return withWidths(labels, sizeOf.high)
  })
  const lows = $derived.by((): Said[] => {
    const labels = corners.map(({ corner, number }) => ({
      id: `low-${number}`,
      number,
      figure: whole(units.speed(corner.min_speed_ms)),
      place: `${whole(units.length(corner.min_speed_at_m))} ${units.lengthUnit}`,
      brakes: false,
      anchor: { x: scale.x(corner.min_speed_at_m), y: scale.y(corner.min_speed_ms) },
      weight: -corner.min_speed_ms,
    }))
    return withWidths(labels, sizeOf.low)
  })
  const sectorLines = $derived.by(() => {
    let at = 0
    return result.sector_times_s.slice(0, -1).map((time, index) => {
      at += time
      const point = trace.t_s.findIndex((t) => t >= at)
      return { number: index + 1, x: scale.x(trace.s_m[Math.max(point, 0)] ?? 0) }
    })
  })

  /** The words at the sector lines, which labels keep clear of. */
  const sectorBoxes = $derived(
    sectorLines.map(({ x }) => ({ left: x - 60, right: x + 60, top: 22, bottom: 36 })),
  )
  const placedLows = $derived(placeLows(lows, { width, top: 0, bottom: base - 2 }, line, size))
  const placedHighs = $derived(
    placeHighs(
      highs,
      [...boxesOf(placedLows, lows, size), ...sectorBoxes],
      { width, top: 22, bottom: base },
      line,
      size,
    ),
  )
  const labelled = $derived([
    ...placedHighs.placed.map((label) => ({
      label,
      high: true,
      text: highs.find((h) => h.id === label.id),
    })),
    ...placedLows.placed.map((label) => ({
      label,
      high: false,
      text: lows.find((low) => low.id === label.id),
    })),
  ])
  const lost = $derived([...placedHighs.lost, ...placedLows.lost])
  $effect(() => {
    if (lost.length > 0) console.error(`Labels that do not fit on the curve: ${lost.join(', ')}`)
  })

  const cursor = $derived.by(() => {
    if (view.cursorM === null) return null
    const index = indexAt(trace, view.cursorM)
    const speed = speedAt(trace, view.cursorM)
    return {
      x: scale.x(view.cursorM),
      y: scale.y(speed),
      at: view.cursorM,
      speed,
      gear: trace.gear[index] ?? 0,
      along: trace.ax_g[index] ?? 0,
      across: Math.abs(trace.ay_g[index] ?? 0),
      time: trace.t_s[index] ?? 0,
      difference: comparison?.time_s?.[index] ?? null,
    }
  })

  function follow(event: PointerEvent): void {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
    const share = (event.clientX - box.left) / box.width
    view.cursorM = Math.min(Math.max(share, 0), 1) * result.length_m
  }

  /** A press selects the corner whose lowest point is nearest. */
  function choose(event: MouseEvent): void {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
    const at = ((event.clientX - box.left) / box.width) * result.length_m
    let nearest = 0
    let least = Infinity
    for (const { corner, number } of corners) {
      const distance = Math.abs(corner.min_speed_at_m - at)
      if (distance < least) {
        least = distance
        nearest = number
      }
    }
    view.select(result, nearest)
  }

  const DIFFERENCE = 22
  const difference = $derived(
    comparison?.time_s?.length === trace.s_m.length ? comparison.time_s : null,
  )
  const foot = $derived(base + 16 + (difference ? DIFFERENCE + 4 : 0))

  /** Corner numbers under the ribbon where no leader ties a corner to its column. */
  const numbers = $derived.by(() => {
    if (columnX.length > 0) return []
    let lastX = -Infinity
    let row = 0
    return [...corners]
      .sort((a, b) => a.corner.min_speed_at_m - b.corner.min_speed_at_m)
      .map(({ corner, number }) => {
        const x = Math.min(Math.max(scale.x(corner.min_speed_at_m), 8), width - 8)
        row = x - lastX < 18 ? 1 - row : 0
        lastX = x
        return { number, x, y: foot + 11 + row * 13 }
      })
  })

  const description = $derived(
    `Speed over ${whole(units.length(result.length_m))} ${units.lengthUnit} in ${lapTime(result.lap_time_s)}. ` +
      corners
        .map(
          ({ corner, number }) =>
            `${corner.name}: ${words?.corners[number]?.action ?? ''}, ${whole(units.speed(corner.min_speed_ms))} ${units.speedUnit}`,
        )
        .join('; '),
  )
</script>

<div
  class="readout absolute z-1 pointer-events-none top-0.5 right-0 whitespace-nowrap h-5"
  aria-hidden={cursor === null}
>
  {#if cursor}
    <span class="unit">At</span>
    <b class="figure">{whole(units.length(cursor.at))} {units.lengthUnit}</b>
    <b class="figure">{whole(units.speed(cursor.speed))}</b>
    <span class="unit">{units.speedUnit}</span>
    <b class="figure">{cursor.gear}</b> <span class="unit">gear</span>
    <b class="figure" class:ember={cursor.along < -0.3}>{Math.abs(cursor.along).toFixed(1)} g</b>
    <span class="unit">{cursor.along < 0 ? 'slowing' : 'gaining'}</span>
    <b class="figure">{cursor.across.toFixed(1)} g</b> <span class="unit">across</span>
    <b class="figure">{lapTime(cursor.time)}</b>
    {#if cursor.difference !== null}
      <b class="figure">{timeDifference(cursor.difference)}</b>
    {/if}
  {/if}
</div>
<!-- The table and the keys offer the same to whoever has no pointer. -->
<div
  class="touch"
  role="presentation"
  onpointermove={follow}
  onpointerleave={() => (view.cursorM = null)}
  onclick={choose}
>
  <svg
    class="overflow-visible block"
    {width}
    {height}
    viewBox="0 0 {width} {height}"
    role="img"
    aria-label={description}
    data-testid="speed-curve"
    data-lost={lost.length}
  >
    <defs>
      <pattern
        id="hatch"
        width="5"
        height="5"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <path d="M0 0V5" stroke="var(--ember-hatch)" stroke-width="1.900" />
      </pattern>
      <pattern id="dots" width="5" height="5" patternUnits="userSpaceOnUse">
        <circle cx="1.500" cy="1.500" r="1" fill="var(--coast)" />
      </pattern>
      <pattern id="difference" width="3" height="3" patternUnits="userSpaceOnUse">
        <path d="M1 0V3" stroke="var(--ink-2)" stroke-width="0.7" />
      </pattern>
    </defs>

    {#if flare}
      {@const [from, to] = [Math.max(scale.x(flare.from), 0), Math.min(scale.x(flare.to), width)]}
      <rect x={from} y="20" width={to - from} height={base - 20} fill="var(--leaf)" />
      <path
        d="M{from} 20V{foot}L{flare.left} {height}M{to} 20V{foot}L{width} {height}"
        fill="none"
        stroke="var(--ink)"
        stroke-width="1.4"
      />
    {/if}
    {#each ticks(scale.low, scale.high, step) as speed (speed)}
      <path d="M0 {scale.y(units.read(speed, 'speed'))}H{width}" stroke="var(--hair)" />
    {/each}
    {#each sectorLines as sector (sector.number)}
      <path d="M{sector.x} 22V{base}" stroke="var(--ink)" stroke-dasharray="1.500 4" />
      <text x={sector.x - 5} y="33" text-anchor="end" class="small">Sector {sector.number}</text>
      <text x={sector.x + 5} y="33" class="small">Sector {sector.number + 1}</text>
    {/each}

    <CurveInk {line} {ghost} {runs} {width} {base} />
    {#if bandPath}
      <path
        d={bandPath}
        fill="var(--ink)"
        fill-opacity="0.13"
        stroke="var(--ink-2)"
        stroke-width="0.8"
        data-testid="band-curve"
      />
    {/if}

    <path d="M0 {base}H{width}" stroke="var(--ink)" stroke-width="1.4" />
    {#each ticks(0, units.length(result.length_m), 100) as along (along)}
      <path
        d="M{scale.x(units.read(along, 'length'))} {base}v{along % 500 === 0 ? 6 : 3}"
        stroke="var(--ink)"
        stroke-width="1"
      />
    {/each}
    <PedalRibbon {runs} {xs} {width} top={base + 4} />
    {#if difference}
      <DifferenceStrip seconds={difference} {xs} {width} top={base + 17} height={DIFFERENCE} />
    {/if}

    {#each corners as { corner, number } (number)}
      {@const low = { x: scale.x(corner.min_speed_at_m), y: scale.y(corner.min_speed_ms) }}
      {@const under = labelled.find((entry) => entry.label.id === `low-${number}`)}
      {@const from = under
        ? under.label.top + size.figure + (under.label.withPlace ? (size.place ?? 0) : 0) + 1
        : low.y + 6}
      {#if columnX[number] !== undefined}
        <path
          d="M{under?.label.x ?? low.x} {from}V{base}L{low.x} {base + 8}V{foot}L{columnX[
            number
          ]} {height - 8}V{height}"
          fill="none"
          stroke="var(--ink)"
          stroke-width={view.corner === number ? 2.2 : 1}
        />
      {/if}
      <circle
        cx={low.x}
        cy={low.y}
        r="3.6"
        fill="var(--paper)"
        stroke="var(--ink)"
        stroke-width={view.corner === number ? 3 : 2}
      />
    {/each}

    {#if cursor}
      <g class="cursor">
        <path d="M{cursor.x} {cursor.y}V{base}" stroke="var(--ink)" stroke-width="1.6" />
        <path d="M{cursor.x - 5} {base + 9}h10l-5 -8z" fill="var(--ink)" />
        <circle
          cx={cursor.x}
          cy={cursor.y}
          r="5"
          fill="var(--paper)"
          stroke="var(--ink)"
          stroke-width="2.4"
        />
      </g>
    {/if}

    {#each numbers as mark (mark.number)}
      <text
        x={mark.x}
        y={mark.y}
        text-anchor="middle"
        class="number"
        class:picked={view.corner === mark.number}>{mark.number + 1}</text
      >
    {/each}
    {#each labelled as { label, high, text } (label.id)}
      {#if text}
        <g class="label" data-label={label.id}>
          {#if high && label.moved}
            <path
              d="M{label.x} {label.top + size.figure + (label.withPlace ? 17 : 1)}L{label.anchor
                .x} {label.anchor.y - 9}"
              stroke={text.brakes ? 'var(--ember)' : 'var(--coast)'}
            />
          {/if}
          {#if !high && columnX.length === 0 && label.top > label.anchor.y + 14}
            <path
              d="M{label.anchor.x} {label.anchor.y + 5}L{label.x} {label.top}"
              fill="none"
              stroke="var(--ink-2)"
            />
          {/if}
          {#if high}
            <path
              d="M{label.anchor.x - 4.5} {label.anchor.y - 10}h9l-4.500 7.500z"
              fill={text.brakes ? 'var(--ember)' : 'var(--coast)'}
            />
          {/if}
          <text
            x={label.x}
            y={label.top + size.figure - 4}
            text-anchor="middle"
            class="figure"
            font-size={high ? sizeOf.high : sizeOf.low}
            fill="var(--ink)">{text.figure}</text
          >
          {#if label.withPlace}
            <text
              x={label.x}
              y={label.top + size.figure + 11}
              text-anchor="middle"
              class="place"
              font-size={SIZES.place}
              fill={high ? (text.brakes ? 'var(--ember)' : 'var(--coast)') : 'var(--ink-2)'}
              >{text.place}</text
            >
          {/if}
        </g>
      {/if}
    {/each}
  </svg>
</div>

<style>
  /* A layer of its own: what changes beside the curve does not have it drawn again. */
  .touch {
    cursor: crosshair;
    touch-action: pan-y;
    will-change: transform;
    background: var(--paper);
  }
  @media print {
    .touch {
      background: none;
    }
  }
  .label,
  .cursor {
    pointer-events: none;
  }
  .label text {
    paint-order: stroke;
    stroke: var(--paper);
    stroke-width: 4px;
    stroke-linejoin: round;
  }
  .small {
    font-size: 13px;
    fill: var(--ink-2);
  }
  .number {
    font-size: 13px;
    fill: var(--ink);
  }
  .picked {
    font-weight: 700;
    text-decoration: underline;
  }
  .readout .figure {
    font-size: 16px;
    margin-left: 8px;
  }
</style>
