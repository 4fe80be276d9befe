<script lang="ts">
  import type { Corner, Result } from '../api/client'
  import type { View } from '../state/view.svelte'
  import {
    highAt,
    indexAt,
    pathOf,
    points,
    scales,
    speedAt,
    stretches,
    ticks,
    type Point,
    type Stretch,
  } from '../curve/geometry'
  import { boxesOf, placeHighs, placeLows, FIGURE_HEIGHT, type Wanted } from '../curve/labels'
  import { FONTS, textWidth } from '../curve/measure'
  import { kmh, lapTime, whole } from '../parts/format'

  /**
   * The lap as a tide curve over true distance: highs where the throttle is shut, lows where the
   * corners are slowest. Every state of the pedals has a texture besides its colour.
   */
  let {
    result,
    opened,
    view,
    width,
    height,
    columnX,
    fontsReady,
  }: {
    result: Result
    opened: Result | null
    view: View
    width: number
    height: number
    /** Middle of each corner's column in the table [px]; empty where there is no table of columns. */
    columnX: number[]
    fontsReady: boolean
  } = $props()

  const ECHOES = 7
  const TOP = 74
  const trace = $derived(result.trace)
  const base = $derived(height - 40)
  const scale = $derived(
    scales(opened ? [result, opened] : [result], result.length_m, {
      width,
      top: TOP,
      base,
      under: 52,
    }),
  )
  const line = $derived(points(trace, scale))
  const ghost = $derived(opened ? points(opened.trace, scale) : [])
  const runs = $derived(stretches(trace))
  const part = (run: Stretch): Point[] => line.slice(run.from, run.to + 1)

  /** A wedge under a stretch, down to its own lowest speed. */
  function wedge(run: Stretch): string {
    const top = part(run)
    const first = top[0]
    if (!first) return ''
    const low = Math.max(...top.map((p) => p.y))
    return `${pathOf(top)}L${first.x.toFixed(1)} ${low.toFixed(1)}Z`
  }

  /** The stretch echoed downwards, each time fainter; cut where it would leave its own foot. */
  const power = $derived(runs.filter((run) => run.pedals === 'power').map(part))
  const under = $derived(
    power
      .map((run) => {
        const first = run[0]
        const last = run[run.length - 1]
        return first && last ? `${pathOf(run)}L${last.x} ${base}L${first.x} ${base}Z` : ''
      })
      .join(''),
  )

  const corners = $derived(result.corners.map((corner, number) => ({ corner, number })))

  function placeText(corner: Corner): string {
    const call = corner.board_call
    if (corner.action === 'lift') return 'lift only'
    if (call) return `${whole(call.metres)} ${call.side} ${call.label}`
    const metres = corner.brake_start_to_corner_m ?? 0
    return metres >= 0 ? `${whole(metres)} before corner` : `${whole(-metres)} into corner`
  }

  const highs = $derived.by((): (Wanted & { number: number; figure: string; place: string })[] => {
    void fontsReady
    return corners.flatMap(({ corner, number }) => {
      const at = highAt(corner)
      if (at === null || (corner.action !== 'brake' && corner.action !== 'lift')) return []
      const speed = speedAt(trace, at)
      const figure = whole(kmh(speed))
      const place = placeText(corner)
      return [
        {
          id: `high-${number}`,
          number,
          figure,
          place,
          anchor: { x: scale.x(at), y: scale.y(speed) },
          figureWidth: textWidth(figure, FONTS.high),
          placeWidth: textWidth(place, FONTS.place),
          weight: speed - corner.min_speed_ms,
        },
      ]
    })
  })
  const lows = $derived.by((): (Wanted & { number: number; figure: string; place: string })[] => {
    void fontsReady
    return corners.map(({ corner, number }) => {
      const figure = whole(kmh(corner.min_speed_ms))
      const place = `${whole(corner.min_speed_at_m)} m`
      return {
        id: `low-${number}`,
        number,
        figure,
        place,
        anchor: { x: scale.x(corner.min_speed_at_m), y: scale.y(corner.min_speed_ms) },
        figureWidth: textWidth(figure, FONTS.low),
        placeWidth: textWidth(place, FONTS.place),
        weight: -corner.min_speed_ms,
      }
    })
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
  const placedLows = $derived(placeLows(lows, { width, top: 0, bottom: base - 2 }, line))
  const placedHighs = $derived(
    placeHighs(
      highs,
      [...boxesOf(placedLows, lows), ...sectorBoxes],
      { width, top: 22, bottom: base },
      line,
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
    if (lost.length > 0) console.error(`Labels without room on the curve: ${lost.join(', ')}`)
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

  const description = $derived(
    `Speed over ${whole(result.length_m)} metres in ${lapTime(result.lap_time_s)}. ` +
      corners
        .map(
          ({ corner }) =>
            `${corner.name}: ${corner.action}, ${whole(kmh(corner.min_speed_ms))} km/h`,
        )
        .join('; '),
  )
</script>

<div class="readout" aria-hidden={cursor === null}>
  {#if cursor}
    <span class="unit">At</span> <b class="figure">{whole(cursor.at)} m</b>
    <b class="figure">{whole(kmh(cursor.speed))}</b> <span class="unit">km/h</span>
    <b class="figure">{cursor.gear}</b> <span class="unit">gear</span>
    <b class="figure" class:ember={cursor.along < -0.3}>{Math.abs(cursor.along).toFixed(1)} g</b>
    <span class="unit">{cursor.along < 0 ? 'slowing' : 'gaining'}</span>
    <b class="figure">{cursor.across.toFixed(1)} g</b> <span class="unit">across</span>
    <b class="figure">{lapTime(cursor.time)}</b>
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
      <clipPath id="under"><path d={under} /></clipPath>
    </defs>

    {#each ticks(scale.baseKmh, scale.topKmh, 50) as speed (speed)}
      <path d="M0 {scale.y(speed / 3.6)}H{width}" stroke="var(--hair)" />
    {/each}
    {#each sectorLines as sector (sector.number)}
      <path d="M{sector.x} 22V{base}" stroke="var(--ink)" stroke-dasharray="1.500 4" />
      <text x={sector.x - 5} y="33" text-anchor="end" class="small">Sector {sector.number}</text>
      <text x={sector.x + 5} y="33" class="small">Sector {sector.number + 1}</text>
    {/each}

    <g clip-path="url(#under)" fill="none" stroke="var(--cool)">
      {#each Array.from({ length: ECHOES }, (_, index) => index + 1) as echo (echo)}
        {#each power as run, index (index)}
          <path
            d={pathOf(run)}
            transform="translate(0 {echo * 8})"
            stroke-width="1.1"
            opacity={0.75 - echo * 0.095}
          />
        {/each}
      {/each}
    </g>
    {#each runs as run (run.from)}
      {#if run.pedals === 'brake'}
        <path d={wedge(run)} fill="url(#hatch)" />
      {:else if run.pedals === 'coast'}
        <path d={wedge(run)} fill="url(#dots)" />
      {/if}
    {/each}
    {#if ghost.length > 0}
      <path
        d={pathOf(ghost)}
        fill="none"
        stroke="var(--ink-2)"
        stroke-width="1.3"
        stroke-dasharray="5 3"
        data-testid="opened-curve"
      />
    {/if}
    {#each runs as run (run.from)}
      <path
        d={pathOf(part(run))}
        fill="none"
        stroke={{
          power: 'var(--cool)',
          brake: 'var(--ember)',
          coast: 'var(--coast)',
          part: 'var(--ink)',
        }[run.pedals]}
        stroke-width={run.pedals === 'brake' ? 3.4 : 2.6}
        stroke-linecap="round"
        stroke-linejoin="round"
      />
    {/each}

    <path d="M0 {base}H{width}" stroke="var(--ink)" stroke-width="1.4" />
    {#each ticks(0, result.length_m, 100) as metres (metres)}
      <path
        d="M{scale.x(metres)} {base}v{metres % 500 === 0 ? 6 : 3}"
        stroke="var(--ink)"
        stroke-width="1"
      />
    {/each}
    <g transform="translate(0 {base + 4})">
      <path d="M0 6H{width}" stroke="var(--cool)" stroke-width="1.6" />
      {#each runs as run (run.from)}
        {@const left = scale.x(trace.s_m[run.from] ?? 0)}
        {@const right = scale.x(trace.s_m[run.to] ?? 0)}
        {#if run.pedals !== 'power' && right - left > 0.6}
          <rect
            x={left}
            y="1"
            width={right - left}
            height="10"
            fill="var(--paper)"
            stroke={run.pedals === 'brake' ? 'var(--ember)' : 'none'}
          />
          <rect
            x={left}
            y="1"
            width={right - left}
            height="10"
            fill={run.pedals === 'brake'
              ? 'url(#hatch)'
              : run.pedals === 'coast'
                ? 'url(#dots)'
                : 'none'}
          />
          {#if run.pedals === 'part'}<path d="M{left} 6H{right}" stroke="var(--ink)" />{/if}
        {/if}
      {/each}
    </g>

    {#each corners as { corner, number } (number)}
      {@const low = { x: scale.x(corner.min_speed_at_m), y: scale.y(corner.min_speed_ms) }}
      {@const under = labelled.find((entry) => entry.label.id === `low-${number}`)}
      {@const from = under
        ? under.label.top + FIGURE_HEIGHT + (under.label.withPlace ? 16 : 0) + 1
        : low.y + 6}
      {#if columnX[number] !== undefined}
        <path
          d="M{under?.label.x ?? low.x} {from}V{base}L{low.x} {base + 8}V{base + 16}L{columnX[
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

    {#each labelled as { label, high, text } (label.id)}
      {#if text}
        <g class="label" data-label={label.id}>
          {#if high && label.moved}
            <path
              d="M{label.x} {label.top + FIGURE_HEIGHT + (label.withPlace ? 17 : 1)}L{label.anchor
                .x} {label.anchor.y - 9}"
              stroke={text.place === 'lift only' ? 'var(--coast)' : 'var(--ember)'}
            />
          {/if}
          {#if high}
            <path
              d="M{label.anchor.x - 4.5} {label.anchor.y - 10}h9l-4.500 7.500z"
              fill={text.place === 'lift only' ? 'var(--coast)' : 'var(--ember)'}
            />
          {/if}
          <text
            x={label.x}
            y={label.top + 15}
            text-anchor="middle"
            class="figure"
            font-size={high ? 18 : 21}
            fill="var(--ink)">{text.figure}</text
          >
          {#if label.withPlace}
            <text
              x={label.x}
              y={label.top + FIGURE_HEIGHT + 11}
              text-anchor="middle"
              class="place"
              font-size="14"
              fill={high
                ? text.place === 'lift only'
                  ? 'var(--coast)'
                  : 'var(--ember)'
                : 'var(--ink-2)'}>{text.place}</text
            >
          {/if}
        </g>
      {/if}
    {/each}
  </svg>
</div>

<style>
  svg {
    display: block;
  }
  .touch {
    cursor: crosshair;
    touch-action: pan-y;
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
  .readout {
    position: absolute;
    top: 2px;
    right: 0;
    white-space: nowrap;
    height: 20px;
  }
  .readout .figure {
    font-size: 16px;
    margin-left: 8px;
  }
  .ember {
    color: var(--ember);
  }
</style>
