<script lang="ts">
  import { answer, client, sentence, type RadiusAnswer } from '../api/client'
  import { typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Quantity } from '../parts/units'

  /** The selected corner's radius from what can be measured. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  type Method = 'chord' | 'lateral_g' | 'points' | 'arc'
  interface Field {
    name: string
    label: string
    quantity: Quantity
    unit: string
  }
  const METHODS: { method: Method; label: string; fields: Field[] }[] = [
    {
      method: 'chord',
      label: 'Chord and height',
      fields: [
        { name: 'chord_m', label: 'Chord', quantity: 'length', unit: '' },
        { name: 'height_m', label: 'Height over its middle', quantity: 'length', unit: '' },
      ],
    },
    {
      method: 'lateral_g',
      label: 'Speed and lateral g',
      fields: [
        { name: 'speed_ms', label: 'Speed', quantity: 'speed', unit: '' },
        { name: 'lateral_g', label: 'Lateral acceleration', quantity: 'none', unit: 'g' },
        { name: 'bank_deg', label: 'Bank', quantity: 'none', unit: '°' },
      ],
    },
    {
      method: 'points',
      label: 'Three points of a map',
      fields: ['first', 'middle', 'last'].flatMap((which) =>
        ['x', 'y'].map((axis): Field => ({
          name: `${which} ${axis}`,
          label: `${which.charAt(0).toUpperCase()}${which.slice(1)} point, ${axis}`,
          quantity: 'length',
          unit: '',
        })),
      ),
    },
    {
      method: 'arc',
      label: 'Length and angle',
      fields: [
        { name: 'length_m', label: 'Length of the arc', quantity: 'length', unit: '' },
        { name: 'angle_deg', label: 'Angle it turns through', quantity: 'none', unit: '°' },
      ],
    },
  ]

  let method = $state<Method>('chord')
  let typed = $state<Record<string, string>>({ bank_deg: '0' })
  let found = $state.raw<RadiusAnswer | null>(null)
  let trouble = $state('')
  const units = $derived(view.units)
  const fields = $derived(METHODS.find((one) => one.method === method)?.fields ?? [])
  const segment = $derived(bench.open?.plan.circuit.segments?.[view.segment])
  const corner = $derived(segment?.kind === 'corner' ? segment : null)

  /** A typed figure in SI units; null while it is not a number. */
  function si(field: Field): number | null {
    const number = typedNumber(typed[field.name] ?? '')
    return number === null ? null : units.read(number, field.quantity)
  }

  let asked = 0
  $effect(() => {
    const values = fields.map(si)
    found = null
    trouble = ''
    if (values.some((value) => value === null)) return
    const numbers = values as number[]
    const ticket = ++asked
    const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0] = numbers
    const question = {
      chord: { method: 'chord' as const, chord_m: a, height_m: b },
      lateral_g: { method: 'lateral_g' as const, speed_ms: a, lateral_g: b, bank_deg: c },
      points: {
        method: 'points' as const,
        points_m: [
          [a, b],
          [c, d],
          [e, f],
        ] as [number, number][],
      },
      arc: { method: 'arc' as const, length_m: a, angle_deg: b },
    }[method]
    void answer(client.POST('/api/radius', { body: question })).then(({ data, error }) => {
      if (ticket !== asked) return
      found = data ?? null
      trouble = data ? '' : sentence(error)
    })
  })

  async function use(): Promise<void> {
    if (!found || !corner) return
    const value = Math.round(found.radius_m * 100) / 100
    const refused = await bench.editCircuit([
      { op: 'set', segment: view.segment, figure: 'radius_m', value },
    ])
    if (refused) trouble = refused
    else view.sheet = null
  }
</script>

<fieldset class="mb-3 gap-x-5 gap-y-2 flex flex-wrap">
  <legend class="sr-only">Measurement</legend>
  {#each METHODS as one (one.method)}
    <label class="gap-1.75 flex items-center text-[14px]">
      <input
        type="radio"
        class="radio radio-sm"
        name="method"
        checked={method === one.method}
        onchange={() => (method = one.method)}
      />
      {one.label}
    </label>
  {/each}
</fieldset>
<div class="mb-3 gap-x-5 gap-y-2 flex flex-wrap">
  {#each fields as field (field.name)}
    <label class="flex flex-col">
      <span>{field.label}</span>
      <span>
        <input
          class="figure border-x-0 border-t-0 dotted-below w-[8ch] text-[18px] bg-transparent"
          inputmode="decimal"
          value={typed[field.name] ?? ''}
          oninput={(event) => (typed[field.name] = event.currentTarget.value)}
        />
        <span class="unit">{units.unitFor(field)}</span>
      </span>
    </label>
  {/each}
</div>
{#if trouble}<p role="alert" class="ember text-[14px]">{trouble}</p>{/if}
<div class="min-h-26 text-[14px]" aria-live="polite" data-testid="measured-radius">
  {#if found}
    <p>
      <b class="figure text-[30px]">{units.length(found.radius_m).toFixed(1)}</b>
      <span class="unit">{units.lengthUnit}</span>
      <span class="place ml-3.5 text-[17px]">{found.formula}</span>
    </p>
    <ul class="list-inside list-[square]">
      {#each found.sensitivities as one (one)}<li>{one}</li>{/each}
    </ul>
  {:else}
    <p class="unit">Fill in every field to get the radius.</p>
  {/if}
</div>
<button class="btn btn-sm btn-primary" disabled={!found || !corner} onclick={() => void use()}
  >{corner ? `Use it for ${corner.name}` : 'Select a corner to use it'}</button
>
