<script lang="ts">
  import type { WindStudy } from '../api/client'
  import { plain } from '../parts/format'
  import type { View } from '../state/view.svelte'

  /**
   * The wind as a rose, north up: turned and made stronger by hand or by keys. A closed curve for
   * each flat corner says from which wind it is flat no more.
   */
  let {
    speedMs,
    fromDeg,
    study,
    view,
    size,
    change,
  }: {
    speedMs: number
    fromDeg: number
    study: WindStudy | null
    view: View
    size: number
    change: (speedMs: number, fromDeg: number) => void
  } = $props()

  const STRONGEST_MS = 24
  const DASHES = ['', '7 4', '2 3', '11 3 2 3', '4 4']
  const middle = $derived(size / 2)
  const reach = $derived(size / 2 - 22)
  const rings = [8, 16, 24]
  const at = (speed: number, from: number): { x: number; y: number } => {
    const angle = (from * Math.PI) / 180
    const far = (Math.min(speed, STRONGEST_MS) / STRONGEST_MS) * reach
    return { x: middle + far * Math.sin(angle), y: middle - far * Math.cos(angle) }
  }
  const hand = $derived(at(speedMs, fromDeg))
  const curves = $derived(
    (study?.corners ?? []).map((corner, number) => ({
      name: corner.name,
      number: corner.corner,
      dash: DASHES[number % DASHES.length] ?? '',
      d:
        corner.from_ms
          .map((from, n) => {
            const place = at(from ?? STRONGEST_MS, study?.directions_deg[n] ?? 0)
            return `${n === 0 ? 'M' : 'L'}${place.x.toFixed(1)} ${place.y.toFixed(1)}`
          })
          .join('') + 'Z',
    })),
  )
  const shown = (ms: number): string => plain(view.units.show(ms, 'wind'), 0)

  function drawn(event: PointerEvent): void {
    if (event.type === 'pointermove' && event.buttons === 0) return
    const box = (event.currentTarget as Element).getBoundingClientRect()
    const x = ((event.clientX - box.left) / box.width) * size - middle
    const y = ((event.clientY - box.top) / box.height) * size - middle
    const speed = Math.min((Math.hypot(x, y) / reach) * STRONGEST_MS, STRONGEST_MS)
    const from = ((Math.atan2(x, -y) * 180) / Math.PI + 360) % 360
    change(Math.round(speed * 2) / 2, Math.round(from / 5) * 5)
  }
  function keyed(event: KeyboardEvent): void {
    const turns: Record<string, [number, number]> = {
      ArrowRight: [0, 5],
      ArrowLeft: [0, -5],
      ArrowUp: [0.5, 0],
      ArrowDown: [-0.5, 0],
    }
    const turn = turns[event.key]
    if (!turn) return
    event.preventDefault()
    event.stopPropagation()
    change(Math.min(Math.max(speedMs + turn[0], 0), STRONGEST_MS), (fromDeg + turn[1] + 360) % 360)
  }
</script>

<svg
  width={size}
  height={size}
  viewBox="0 0 {size} {size}"
  role="slider"
  tabindex="0"
  aria-label="Wind: left and right change direction, up and down change speed"
  aria-valuenow={Math.round(fromDeg)}
  aria-valuemin="0"
  aria-valuemax="360"
  aria-valuetext="{shown(speedMs)} {view.units.unitOf('wind')} from {Math.round(fromDeg)}°"
  data-testid="wind-rose"
  onpointerdown={drawn}
  onpointermove={drawn}
  onkeydown={keyed}
>
  {#each rings as ring (ring)}
    <circle
      cx={middle}
      cy={middle}
      r={(ring / STRONGEST_MS) * reach}
      fill="none"
      stroke="var(--hair)"
    />
    <text x={middle + 3} y={middle - (ring / STRONGEST_MS) * reach + 13} class="tick"
      >{shown(ring)}</text
    >
  {/each}
  {#each [['N', 0], ['E', 90], ['S', 180], ['W', 270]] as const as [name, from] (name)}
    {@const place = at(STRONGEST_MS, from)}
    <text
      x={place.x + (from === 90 ? 11 : from === 270 ? -11 : 0)}
      y={place.y + (from === 0 ? -7 : from === 180 ? 17 : 5)}
      text-anchor="middle"
      class="point">{name}</text
    >
  {/each}
  {#each curves as curve (curve.number)}
    <path d={curve.d} class="threshold" stroke-dasharray={curve.dash} />
  {/each}
  <path d="M{hand.x} {hand.y}L{middle} {middle}" stroke="var(--cool)" stroke-width="2.6" />
  <circle cx={middle} cy={middle} r="2.5" fill="var(--cool)" />
  <circle cx={hand.x} cy={hand.y} r="7" class="hand" />
</svg>
{#if curves.length > 0}
  <ul class="unit">
    {#each curves as curve (curve.number)}
      <li class="gap-2 flex items-center">
        <svg width="30" height="8" aria-hidden="true"
          ><path d="M0 4H30" class="threshold" stroke-dasharray={curve.dash} /></svg
        >
        <span class="place text-ink text-[15px]">{curve.name}</span> is flat inside its curve
      </li>
    {/each}
  </ul>
{/if}

<style>
  svg[role='slider'] {
    display: block;
    touch-action: none;
    cursor: grab;
  }
  .point {
    font-family: var(--figures);
    font-style: italic;
    font-size: 15px;
    fill: var(--ink);
  }
  .threshold {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.8;
  }
  .hand {
    fill: var(--paper);
    stroke: var(--cool);
    stroke-width: 2.6;
  }
</style>
