<script lang="ts">
  /** A figure, or a name, to be typed in one of the first steps. */
  let {
    label,
    unit = null,
    value = $bindable(),
  }: { label: string; unit?: string | null; value: string } = $props()
</script>

<label class="field">
  <span>{label}</span>
  {#if unit === null}
    <input class="figure name" bind:value maxlength="200" required />
  {:else}
    <span
      ><input class="figure" inputmode="decimal" bind:value required />
      <span class="unit">{unit}</span></span
    >
  {/if}
</label>

<style>
  .field {
    display: flex;
    flex-direction: column;
  }
  input {
    background: none;
    border: 0;
    border-bottom: 1px dotted var(--ink-2);
    font-size: 19px;
    width: 7ch;
    padding: 1px 0;
  }
  input.name {
    width: 100%;
  }
  @media (max-width: 560px) {
    input {
      font-size: 16px;
      max-width: 100%;
    }
  }
</style>
