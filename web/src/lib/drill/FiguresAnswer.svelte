<script lang="ts">
  import { untrack } from 'svelte'
  import type { DrillQuestion, DrillScored } from '../api/client'
  import { plain, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import SpeedDial from './SpeedDial.svelte'

  /** Figures typed, stepped, or, for a speed, set on a dial. */
  let {
    question,
    scored,
    view,
    given,
    keys,
  }: {
    question: DrillQuestion
    scored: DrillScored | null
    view: View
    given: (figures: number[]) => void
    keys: (keys: (event: KeyboardEvent) => boolean) => void
  } = $props()

  const units = $derived(view.units)
  const kindOf = (n: number): 'speed' | 'length' | 'none' => {
    const quantity = question.fields[n]?.quantity
    return quantity === 'speed' || quantity === 'length' ? quantity : 'none'
  }
  const stepOf = (n: number): number => (kindOf(n) === 'none' ? 0.1 : 1)
  const unitOf = (n: number): string => (kindOf(n) === 'none' ? 'g' : units.unitOf(kindOf(n)))
  /** As shown, in the units of the page. */
  let shown = $state(
    untrack(() =>
      question.fields.map((field, n) =>
        Number(units.show(field.start, kindOf(n)).toFixed(kindOf(n) === 'none' ? 1 : 0)),
      ),
    ),
  )
  /** What is being typed, until it is left; a figure half typed is not put right under one’s hands. */
  let drafts = $state<(string | null)[]>([])
  let inputs = $state<HTMLInputElement[]>([])

  $effect(() => {
    given(shown.map((value, n) => units.read(value, kindOf(n))))
  })
  $effect(() => {
    untrack(() => inputs[0])?.select()
  })

  function put(n: number, value: number): void {
    const field = question.fields[n]
    if (!field || scored) return
    const [least, most] = [field.least, field.most].map((one) => units.show(one, kindOf(n)))
    const within = Math.min(Math.max(value, least ?? 0), most ?? value)
    shown[n] = Number(within.toFixed(kindOf(n) === 'none' ? 1 : 0))
  }
  function typed(n: number, text: string): void {
    drafts[n] = text
    const value = typedNumber(text)
    if (value !== null) put(n, value)
  }
  function key(event: KeyboardEvent): boolean {
    const found = inputs.indexOf(event.target as HTMLInputElement)
    const n = Math.max(found, 0)
    const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key]
    if (by === undefined) return false
    // Inside the field the side arrows move within the text.
    if (found >= 0 && /Left|Right/.test(event.key)) return false
    drafts[n] = null
    put(n, (shown[n] ?? 0) + by * stepOf(n) * (event.shiftKey ? 1 : 5))
    return true
  }
  $effect(() => {
    keys(key)
  })
</script>

<div class="figures gap-2.5 grid justify-items-center">
  {#if question.fields[0]?.quantity === 'speed'}
    <SpeedDial
      value={shown[0] ?? 0}
      most={units.speed(question.fields[0].most)}
      right={scored?.figures[0] ?? null}
      {units}
      set={(value) => put(0, value)}
    />
  {/if}
  {#each question.fields as field, n (field.name)}
    <label class="gap-0.5 grid justify-items-center text-[14px] text-ink-2">
      <span>{field.label}</span>
      <span class="gap-2 flex items-center">
        <button
          class="btn"
          aria-label="{field.label}: less"
          disabled={scored !== null}
          onclick={() => put(n, (shown[n] ?? 0) - stepOf(n))}>−</button
        >
        <input
          bind:this={inputs[n]}
          role="spinbutton"
          inputmode="decimal"
          autocomplete="off"
          class="figure dotted-below w-24 text-[34px] text-center text-ink bg-transparent"
          aria-label={field.label}
          aria-valuenow={shown[n]}
          disabled={scored !== null}
          onkeydown={(event) => {
            // What is typed into the figure is not the page’s.
            if (!/^(Enter|Escape|ArrowUp|ArrowDown)$/.test(event.key)) event.stopPropagation()
          }}
          value={drafts[n] ?? plain(shown[n] ?? 0, 1)}
          oninput={(event) => typed(n, event.currentTarget.value)}
          onblur={() => (drafts[n] = null)}
        />
        <span class="unit min-w-10 text-[15px]">{unitOf(n)}</span>
        <button
          class="btn"
          aria-label="{field.label}: more"
          disabled={scored !== null}
          onclick={() => put(n, (shown[n] ?? 0) + stepOf(n))}>+</button
        >
      </span>
    </label>
  {/each}
</div>
