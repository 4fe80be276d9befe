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

<label class="name">
  <span class="unit">{label}</span>
  <input
    bind:this={input}
    class="figure"
    maxlength="200"
    value={draft ?? value}
    oninput={(event) => (draft = event.currentTarget.value)}
    onkeydown={keydown}
    onblur={keep}
  />
</label>

<style>
  .name {
    display: flex;
    flex-direction: column;
    flex: 1;
  }
  input {
    font-size: 19px;
    background: none;
    border: 0;
    border-bottom: 1px dotted var(--ink-2);
    width: 100%;
    padding: 2px 0;
  }
</style>
