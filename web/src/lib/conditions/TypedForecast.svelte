<script lang="ts">
  import type { Weather } from './weather.svelte'

  /** Forecasts in words, a line each, added to the record or beginning one. */
  let { weather, added }: { weather: Weather; added?: () => void } = $props()

  let text = $state('')
  let refusal = $state('')

  async function add(): Promise<void> {
    refusal = (await weather.type(text)) ?? ''
    if (refusal) return
    text = ''
    added?.()
  }
</script>

<form
  class="gap-1 flex flex-col max-w-110"
  onsubmit={(event) => {
    event.preventDefault()
    void add()
  }}
>
  <label class="flex flex-col"
    ><span class="unit"
      >Forecast in words, one on each line; minutes from {weather.record
        ? 'the last measured reading'
        : 'the start'}</span
    >
    <textarea
      class="px-2 py-1 border border-rule bg-leaf font-figures text-[15px]"
      rows="2"
      placeholder="dry, then rain from minute 70, 4 mm/h, 40 %"
      aria-label="Forecast in words"
      bind:value={text}
      onkeydown={(event) => {
        if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void add()
      }}></textarea></label
  >
  {#if refusal}<p role="alert" class="refusal">{refusal}</p>{/if}
  <p><button class="link" disabled={text.trim() === ''}>Add forecast</button></p>
</form>
