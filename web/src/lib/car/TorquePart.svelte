<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import { answer, client, sentence } from '../api/client'
  import { plain, whole } from '../parts/format'
  import type { Units } from '../parts/units'
  import CarFigure from './CarFigure.svelte'
  import type { CarWork } from './work.svelte'

  /** The torque curve: points dragged, typed, pasted or read from a file. */
  let { work, planId, units }: { work: CarWork; planId: number; units: Units } = $props()

  const WIDTH = 396
  const HEIGHT = 190
  const LEFT = 40
  const BELOW = 24
  const points = $derived(work.car?.engine.torque_curve ?? [])
  const limit = $derived(work.car?.engine.rev_limit_rpm ?? 8000)
  const mostNm = $derived(1.15 * Math.max(1, ...points.map((point) => point.torque_nm)))
  const powerKw = (rpm: number, nm: number): number => (rpm * nm * Math.PI) / 30000
  const mostKw = $derived(1.1 * Math.max(1, ...points.map((p) => powerKw(p.rpm, p.torque_nm))))
  const px = $derived(scaleLinear([0, 1.05 * limit], [LEFT, WIDTH - 8]))
  const py = $derived(scaleLinear([0, mostNm], [HEIGHT - BELOW, 22]))
  const pk = $derived(scaleLinear([0, mostKw], [HEIGHT - BELOW, 22]))

  let held = $state.raw<{ index: number; nm: number } | null>(null)
  const shown = $derived(
    points.map((point, index) => ({
      ...point,
      torque_nm: held?.index === index ? held.nm : point.torque_nm,
    })),
  )
  const line = $derived(shown.map((p) => `${px(p.rpm).toFixed(1)} ${py(p.torque_nm).toFixed(1)}`))
  const power = $derived(
    shown.slice(1).flatMap((to, index) => {
      const from = shown[index]
      if (!from) return []
      return [0, 0.25, 0.5, 0.75, 1].map((share) => {
        const rpm = from.rpm + share * (to.rpm - from.rpm)
        const nm = from.torque_nm + share * (to.torque_nm - from.torque_nm)
        return `${px(rpm).toFixed(1)} ${pk(powerKw(rpm, nm)).toFixed(1)}`
      })
    }),
  )

  const set = (
    point: number,
    change: { rpm?: number; torque_nm?: number },
  ): Promise<string | null> =>
    work.edit({
      op: 'torque_point',
      point,
      rpm: change.rpm ?? null,
      torque_nm: change.torque_nm ?? null,
    })
  async function letGo(): Promise<void> {
    const moved = held
    if (moved) await set(moved.index, { torque_nm: Math.round(moved.nm * 10) / 10 })
    held = null
  }
  let text = $state('')
  let pasting = $state(false)
  let refusal = $state('')
  async function read(given: string): Promise<void> {
    const { data, error } = await answer(client.POST('/api/cars/torque', { body: { text: given } }))
    const fault = error?.faults[0]
    refusal = data ? '' : fault ? `${fault.path}: ${fault.message}` : sentence(error)
    if (!data) return
    refusal = (await work.edit({ op: 'torque_curve', points: data })) ?? ''
    if (refusal === '') {
      pasting = false
      text = ''
    }
  }
</script>

<section aria-label="Torque curve">
  <h2 class="figure text-[18px]">Torque curve</h2>
  <svg
    viewBox="0 0 {WIDTH} {HEIGHT}"
    style:width="{WIDTH}px"
    style:max-width="100%"
    role="img"
    aria-label="Torque and power over engine speed"
  >
    {#each px.ticks(5) as tick (tick)}
      <path d="M{px(tick)} {HEIGHT - BELOW}V22" stroke="var(--hair)" />
      <text x={px(tick)} y={HEIGHT - 8} text-anchor="middle" class="tick">{whole(tick)}</text>
    {/each}
    {#each scaleLinear([0, units.show(mostNm, 'torque')], [0, 1]).ticks(4) as tick (tick)}
      <text x={LEFT - 5} y={py(units.read(tick, 'torque')) + 4} text-anchor="end" class="tick"
        >{whole(tick)}</text
      >
    {/each}
    <path d="M{px(limit)} {HEIGHT - BELOW}V22" stroke="var(--ink)" stroke-dasharray="2 3" />
    <path d="M{power.join('L')}" class="power" />
    <path d="M{line.join('L')}" class="torque" />
    <text x="0" y="12" class="tick"
      >{units.unitOf('torque')}; power dashed, to {whole(units.show(mostKw, 'power'))}
      {units.unitOf('power')}</text
    >
    {#each shown as point, index (index)}
      <circle
        role="presentation"
        data-torque={index}
        cx={px(point.rpm)}
        cy={py(point.torque_nm)}
        r="5"
        onpointerdown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId)
          held = { index, nm: point.torque_nm }
        }}
        onpointermove={(event) => {
          if (!held) return
          const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect()
          const y = event.clientY - (box?.top ?? 0)
          held = { index, nm: Math.max(1, py.invert(y)) }
        }}
        onpointerup={() => void letGo()}
      />
    {/each}
  </svg>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div
    class="max-h-62.5 overflow-y-auto"
    role="region"
    tabindex="0"
    aria-label="Torque by engine speed"
  >
    <table class="ruled" data-testid="torque">
      <thead>
        <tr>
          <th scope="col">rpm</th><th scope="col">{units.unitOf('torque')}</th>
          <th scope="col">{units.unitOf('power')}</th>
          <th><span class="sr-only">Remove</span></th>
        </tr>
      </thead>
      <tbody>
        {#each points as point, index (index)}
          <tr>
            <td
              ><CarFigure
                label="Engine speed of point {index + 1} (rpm)"
                value={point.rpm}
                decimals={0}
                step={100}
                fine={10}
                write={(rpm) => set(index, { rpm })}
              /></td
            >
            <td
              ><CarFigure
                label="Torque of point {index + 1} ({units.unitOf('torque')})"
                value={units.show(point.torque_nm, 'torque')}
                decimals={1}
                step={5}
                fine={1}
                write={(shown) => set(index, { torque_nm: units.read(shown, 'torque') })}
              /></td
            >
            <td class="figure"
              >{plain(units.show(powerKw(point.rpm, point.torque_nm), 'power'), 1)}</td
            >
            <td
              ><button
                class="link no-underline"
                disabled={points.length < 3}
                aria-label="Remove point {index + 1}"
                onclick={() => void work.edit({ op: 'remove_torque_point', point: index })}
                >×</button
              ></td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  <p class="unit px-0 py-1 gap-3.5 flex">
    <button class="link" onclick={() => void work.edit({ op: 'add_torque_point' })}
      >Add a point</button
    >
    <button class="link" onclick={() => (pasting = !pasting)}>Paste a table</button>
    <label class="link"
      >From a file<input
        type="file"
        class="sr-only"
        accept=".csv,.txt,.tsv"
        onchange={async (event) => {
          const file = event.currentTarget.files?.[0]
          event.currentTarget.value = ''
          if (file) await read(await file.text())
        }}
      /></label
    >
    <a class="link" href="/api/plans/{planId}/car/torque.csv" download>CSV</a>
  </p>
  {#if pasting}
    <textarea
      class="p-1 mb-1 border border-rule block w-full bg-leaf text-[14px]"
      aria-label="Torque curve as text"
      rows="4"
      placeholder="rpm; Nm (or kW in the header)"
      bind:value={text}></textarea>
    <button
      class="btn btn-xs btn-primary"
      disabled={text.trim() === ''}
      onclick={() => void read(text)}>Use table</button
    >
  {/if}
  {#if refusal}<p role="alert" class="refusal">{refusal}</p>{/if}
</section>

<style>
  .torque {
    fill: none;
    stroke: var(--ink);
    stroke-width: 2.4;
  }
  .power {
    fill: none;
    stroke: var(--ink-2);
    stroke-width: 1.6;
    stroke-dasharray: 6 4;
  }
  circle {
    fill: var(--leaf);
    stroke: var(--ink);
    stroke-width: 1.6;
    cursor: ns-resize;
    touch-action: none;
  }
  th,
  td {
    padding: 1px 8px 1px 0;
  }
</style>
