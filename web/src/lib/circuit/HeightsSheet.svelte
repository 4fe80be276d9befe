<script lang="ts">
  import type { Circuit, SurveyReport } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { whole } from '../parts/format'
  import CircuitFigure from './CircuitFigure.svelte'
  import type { CircuitEdits } from './edits.svelte'

  /** The road's height along the lap: by the grades of its parts, or by points that can be moved. */
  let {
    view,
    circuit,
    survey,
    edits,
    width,
  }: {
    view: View
    circuit: Circuit
    survey: SurveyReport | null
    edits: CircuitEdits
    width: number
  } = $props()

  const HEIGHT = 170
  const LEFT = 44
  const units = $derived(view.units)
  const profile = $derived(survey?.profile ?? null)
  const points = $derived(circuit.elevation ?? [])
  const length = $derived(profile?.at_m[profile.at_m.length - 1] ?? 1)
  const low = $derived(Math.min(...(profile?.z_m ?? [0]), ...points.map((one) => one.z_m)) - 1)
  const high = $derived(Math.max(...(profile?.z_m ?? [1]), ...points.map((one) => one.z_m)) + 1)
  const x = (at: number): number => LEFT + (at / length) * (width - LEFT - 12)
  const y = (z: number): number => HEIGHT - 22 - ((z - low) / (high - low)) * (HEIGHT - 36)
  const line = $derived(
    (profile?.at_m ?? [])
      .map(
        (at, index) =>
          `${index === 0 ? 'M' : 'L'}${x(at).toFixed(1)} ${y(profile?.z_m[index] ?? 0).toFixed(1)}`,
      )
      .join(''),
  )
  const steepest = $derived(
    (profile?.grade_pct ?? []).reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a), 0),
  )
  const corners = $derived.by(() => {
    let at = 0
    let number = 0
    return (circuit.segments ?? []).flatMap((segment, index) => {
      const begins = at
      at += survey?.lengths_m[index] ?? 0
      if (segment.kind !== 'corner') return []
      number += 1
      return [{ number, middle: (begins + at) / 2 }]
    })
  })

  let dragged = $state.raw<{ number: number; z: number } | null>(null)
  function drag(event: PointerEvent): void {
    if (!dragged) return
    const box = (event.currentTarget as Element).getBoundingClientRect()
    const share = (HEIGHT - 22 - (event.clientY - box.top)) / (HEIGHT - 36)
    dragged = { ...dragged, z: low + share * (high - low) }
  }
  function drop(): void {
    if (!dragged) return
    const point = points[dragged.number]
    const z_m = Math.round(dragged.z * 10) / 10
    const number = dragged.number
    dragged = null
    if (point && Math.abs(point.z_m - z_m) >= 0.1)
      void edits.make({ op: 'set_height', number, at_m: point.at_m, z_m })
  }
  function add(): void {
    // In the widest gap, where the profile is now.
    const ends = [...points.map((one) => one.at_m), length]
    const gaps = points.map((one, index) => (ends[index + 1] ?? length) - one.at_m)
    const widest = gaps.indexOf(Math.max(...gaps))
    const at_m = Math.round((points[widest]?.at_m ?? 0) + (gaps[widest] ?? 0) / 2)
    const near = profile?.at_m.findIndex((at) => at >= at_m) ?? 0
    const z_m = profile?.z_m[Math.max(near, 0)] ?? 0
    void edits.make({ op: 'set_height', number: null, at_m, z_m })
  }
</script>

<svg
  class="block touch-none"
  {width}
  height={HEIGHT}
  role="img"
  aria-label="Height along the lap, from {whole(units.length(low + 1))} to {whole(
    units.length(high - 1),
  )} {units.lengthUnit}"
  data-testid="profile"
  onpointermove={drag}
  onpointerup={drop}
>
  {#each [low + 1, high - 1] as z, end (end)}
    <path d="M{LEFT} {y(z)}H{width - 12}" stroke="var(--hair)" />
    <text x={LEFT - 6} y={y(z) + 4} text-anchor="end" font-size="13" fill="var(--ink-2)"
      >{whole(units.length(z))}</text
    >
  {/each}
  <path d={line} fill="none" stroke="var(--ink)" stroke-width="2.2" />
  {#each corners as corner (corner.number)}
    <text
      x={x(corner.middle)}
      y={HEIGHT - 4}
      text-anchor="middle"
      font-size="13"
      fill="var(--ink-2)">{corner.number}</text
    >
  {/each}
  {#each points as point, number (number)}
    <!-- The table below changes the same points by keys. -->
    <circle
      role="presentation"
      class="handle"
      cx={x(point.at_m)}
      cy={y(dragged?.number === number ? dragged.z : point.z_m)}
      r="5"
      onpointerdown={(event) => {
        event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId)
        dragged = { number, z: point.z_m }
      }}
    />
  {/each}
</svg>
<p class="px-0 py-1 text-[14px]">
  Steepest {steepest > 0 ? 'climb' : 'fall'}
  <span class="figure">{Math.abs(steepest).toFixed(1)} %</span>.
  {#if points.length === 0}
    Heights come from the grade of each part.
    <button class="link" onclick={() => void edits.make({ op: 'heights', use: true })}
      >Enter heights as points</button
    >
  {:else}
    Heights come from these points; the grade of each part is ignored.
    <button class="link" onclick={add}>Add a point</button>
    <button class="link ember" onclick={() => void edits.make({ op: 'heights', use: false })}
      >Use grades instead</button
    >
  {/if}
</p>
{#if points.length > 0}
  <ol class="[columns:4_180px] text-[14px]" data-testid="heights">
    {#each points as point, number (number)}
      <li class="gap-2.5 flex items-baseline break-inside-avoid">
        <CircuitFigure
          {view}
          {edits}
          name="height:{number}:at"
          label="Place of height {number + 1} ({units.lengthUnit})"
          kept={point.at_m}
          quantity="length"
          decimals={0}
          step={10}
          fine={1}
          width="5ch"
          edit={(value) => ({ op: 'set_height', number, at_m: value, z_m: point.z_m })}
        />
        <CircuitFigure
          {view}
          {edits}
          name="height:{number}:z"
          label="Height {number + 1} ({units.lengthUnit})"
          kept={point.z_m}
          quantity="length"
          decimals={1}
          step={0.5}
          fine={0.1}
          width="5ch"
          edit={(value) => ({ op: 'set_height', number, at_m: point.at_m, z_m: value })}
        />
        <button
          class="link ember"
          aria-label="Remove height {number + 1}"
          onclick={() => void edits.make({ op: 'remove_height', number })}>×</button
        >
      </li>
    {/each}
  </ol>
{/if}

<style>
  .handle {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 2;
    cursor: ns-resize;
  }
</style>
