<script lang="ts">
  /** A name that is changed where it stands. */
  let { label, value, save }: { label: string; value: string; save: (name: string) => void } =
    $props()

  let draft = $state<string | null>(null)
  let input: HTMLInputElement

  function keep(): void {
    const name = draft?.trim()
    draft = null
    if (name && name !== value) save(name)
  }

  function keydown(event: KeyboardEvent): void {
    if (event.key === 'Enter') {
      event.preventDefault()
      input.blur()
    }
    if (event.key === 'Escape') {
      // The first Esc leaves the name as it was; the next one closes the sheet.
      if (draft !== null) event.preventDefault()
      draft = null
      input.value = value
    }
  }
</script>

<label class="name flex-1 flex flex-col">
  <span class="unit">{label}</span>
  <input
    bind:this={input}
    class="figure px-0 py-0.5 border-x-0 border-t-0 dotted-below text-[19px] bg-transparent w-full"
    maxlength="200"
    value={draft ?? value}
    oninput={(event) => (draft = event.currentTarget.value)}
    onkeydown={keydown}
    onblur={keep}
  />
</label>
