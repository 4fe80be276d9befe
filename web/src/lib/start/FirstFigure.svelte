<script lang="ts">
  /** A figure, or a name, to be typed in one of the first steps. */
  let {
    label,
    unit = null,
    value = $bindable(),
  }: { label: string; unit?: string | null; value: string } = $props()
</script>

<label class="flex flex-col">
  <span>{label}</span>
  {#if unit === null}
    <input
      class="figure name px-0 py-px border-x-0 border-t-0 dotted-below bg-transparent text-[19px] w-full"
      bind:value
      maxlength="200"
      required
    />
  {:else}
    <span
      ><input
        class="figure px-0 py-px border-x-0 border-t-0 dotted-below bg-transparent text-[19px] w-[7ch]"
        inputmode="decimal"
        bind:value
        required
      />
      <span class="unit">{unit}</span></span
    >
  {/if}
</label>

<style>
  @media (max-width: 560px) {
    input {
      font-size: 16px;
      max-width: 100%;
    }
  }
</style>
