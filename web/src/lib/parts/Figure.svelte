<script lang="ts">
  import { untrack } from 'svelte'
  import { plain, typedNumber } from './format'

  /**
   * A figure set in the page that is changed where it stands: typing and Enter, or the arrow keys
   * (Shift steps finer). `done` says that it was let go of, by Enter or by leaving it. A refused
   * figure stays as typed with the reason under it; steps lead no further that way, and what was
   * stepped to is gone once the figure is left. `likely` is told which values will perhaps come
   * next, and none once the figure is left.
   */
  let {
    label,
    value,
    decimals,
    step,
    fine,
    width = '4.2ch',
    size = '19px',
    refusal = null,
    change,
    done,
    refuse,
    forget,
    likely,
  }: {
    label: string
    value: number
    decimals: number
    step: number
    fine: number
    width?: string
    size?: string
    refusal?: string | null
    change: (value: number) => void
    done: () => void
    refuse: (message: string) => void
    forget: () => void
    likely?: (values: number[]) => void
  } = $props()

  /** Keys of the page that no number has in it: they work with a figure in hand as well. */
  const PAGE_KEYS = /^[bcfghkmnopruvw?/[\]]$/i

  /** So long does a held key wait for the lap of its last step before it goes on counting [ms]. */
  const LAP_WAITED_FOR_MS = 150

  let draft = $state<string | null>(null)
  /** What a held key has come to and does not show yet. */
  let ahead: string | null = null
  let waiting: ReturnType<typeof setTimeout> | undefined
  /** Whether what stands in the field was stepped to, and not typed. */
  let byStep = $state(false)
  let input = $state<HTMLInputElement>()
  const id = $props.id()
  // The reason opens towards the middle of the page.
  const flip = $derived(
    refusal !== null && (input?.getBoundingClientRect().left ?? 0) > innerWidth / 2,
  )
  /** As many decimals as the finest step has. */
  const places = $derived(Math.max(decimals, `${fine}`.split('.')[1]?.length ?? 0))
  const shown = $derived.by(() => {
    if (draft === null) return plain(value, decimals)
    return byStep ? plain(typedNumber(draft) ?? value, places) : draft
  })

  /** No digit is ever cut off; a point or a sign takes half of one's room. */
  const room = $derived(0.5 * (shown.length + shown.replace(/\D/g, '').length))

  function commit(): void {
    catchUp()
    if (draft === null) return
    const number = typedNumber(draft)
    if (number === null) {
      refuse(`“${draft}” was typed; a number is expected.`)
      return
    }
    if (plain(number, decimals) !== plain(value, decimals)) change(number)
    else forget()
    // Kept until the plan has taken it, and while it is refused, so that it can be mended.
    draft = plain(number, 6)
  }

  $effect(() => {
    // Once the plan holds what was typed the draft is done; a refused draft stays.
    const taken = draft !== null && plain(typedNumber(draft) ?? NaN, 6) === plain(value, 6)
    if (taken || (!refusal && document.activeElement !== input)) draft = null
  })

  /** Show what a held key has come to. */
  function catchUp(): void {
    clearTimeout(waiting)
    waiting = undefined
    if (ahead !== null) draft = ahead
    ahead = null
  }
  $effect(() => {
    // Another lap is shown, or none for this step: the figure goes with it.
    void [value, refusal]
    untrack(catchUp)
  })

  const stepped = (from: number, by: number): number => Number((from + by).toFixed(6))

  /** With the key held the figure is shown with its lap: frames of its own would hold that up. */
  function nudge(by: number, held: boolean): void {
    const last = ahead ?? draft
    const from = last === null ? value : (typedNumber(last) ?? value)
    // Beyond a figure that was refused there is nothing: steps only lead back from there.
    if (refusal !== null && Math.sign(by) === Math.sign(from - value)) return
    const next = stepped(from, by)
    byStep = true
    ahead = plain(next, Math.max(decimals, 4))
    if (held) waiting ??= setTimeout(catchUp, LAP_WAITED_FOR_MS)
    else catchUp()
    likely?.([stepped(next, by)])
    change(next)
  }

  function keydown(event: KeyboardEvent): void {
    if (PAGE_KEYS.test(event.key) && !event.altKey) return
    if (event.key === 'Enter') {
      commit()
      done()
      if (draft !== null && typedNumber(draft) !== null) input?.select()
    } else if (event.key === 'Escape') {
      ahead = draft = null
      forget()
      input?.blur()
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault()
      nudge((event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? fine : step), event.repeat)
    }
    // Undo and redo are the page's own; everything else typed here stays here.
    if (!(event.ctrlKey || event.metaKey)) event.stopPropagation()
  }

  function focus(): void {
    input?.select()
    likely?.([stepped(value, step), stepped(value, -step)])
  }

  function blur(): void {
    likely?.([])
    if (refusal !== null && byStep) {
      ahead = draft = null
      forget()
    } else commit()
    done()
    if (!refusal && draft !== null && typedNumber(draft) !== null) draft = null
  }
</script>

<span class="relative inline-block">
  <input
    bind:this={input}
    {id}
    class="figure field"
    class:refused={refusal !== null}
    style:width="max({width}, {room}ch)"
    style:font-size={size}
    role="spinbutton"
    inputmode="decimal"
    autocomplete="off"
    aria-label={label}
    aria-valuenow={value}
    aria-invalid={refusal !== null}
    aria-describedby={refusal ? `${id}-why` : undefined}
    value={shown}
    oninput={(event) => {
      ahead = null
      draft = event.currentTarget.value
      byStep = false
    }}
    onkeydown={keydown}
    onkeyup={catchUp}
    onblur={blur}
    onfocus={focus}
  />
  {#if refusal}
    <span class="why" class:flip id="{id}-why" role="alert">{refusal}</span>
  {/if}
</span>

<style>
  .field {
    background: none;
    border: 0;
    border-bottom: 1px dotted var(--ink-2);
    padding: 0;
    height: 1.3em;
    line-height: 1.2;
    text-align: inherit;
  }
  .field:hover,
  .field:focus {
    background: var(--leaf);
  }
  .refused {
    border-bottom: 2px solid var(--ember);
    color: var(--ember);
  }
  .why {
    position: absolute;
    z-index: 20;
    top: 100%;
    left: 0;
    width: max-content;
    max-width: min(260px, 60vw);
    padding: 4px 8px;
    border: 1px solid var(--ember);
    background: var(--leaf);
    color: var(--ember);
    font: 500 13px/1.35 var(--labels);
    text-align: left;
    white-space: normal;
  }
  .flip {
    left: auto;
    right: 0;
  }
</style>
