<script lang="ts">
  import { untrack } from 'svelte'
  import { client, type Brief, type Result } from '../api/client'
  import { standing } from '../state/bands.svelte'
  import { Loaded } from '../state/loaded.svelte'
  import { recallText, remember } from '../state/memory'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { KNOWN } from '../lap/words'
  import BriefSheet from './BriefSheet.svelte'

  /** The sheet that a driver takes along: on paper, as a file, or on a phone. */
  let { bench, view, result }: { bench: Workbench; view: View; result: Result } = $props()

  type Confidence = Brief['confidence']
  const FORMS = [
    { form: 'md', label: 'Markdown' },
    { form: 'csv', label: 'CSV' },
    { form: 'json', label: 'JSON' },
    { form: 'svg', label: 'SVG' },
  ]
  let paper = $state<'A4' | 'A5'>(recallText('paper') === 'A5' ? 'A5' : 'A4')
  let known = $state<Confidence>('new')
  const loaded = new Loaded<Brief>()

  $effect(() => {
    const key = `${standing(bench)}/${view.system}/${known}/${view.bands}`
    const id = bench.open?.id
    const [units, confidence, bands] = [view.system, known, view.bands]
    untrack(() => {
      if (id === undefined) return
      void loaded.load(key, (signal) =>
        client.GET('/api/plans/{plan_id}/brief', {
          params: { path: { plan_id: id }, query: { units, confidence, bands } },
          signal,
        }),
      )
    })
  })
  const address = (form: string): string =>
    `/api/plans/${bench.open?.id ?? 0}/brief/${form}?units=${view.system}&confidence=${known}&bands=${view.bands}`
  function choosePaper(size: 'A4' | 'A5'): void {
    paper = size
    remember('paper', size)
  }
</script>

<div
  class="tools px-0 py-2 gap-x-5.5 gap-y-1.5 border-b border-b-rule flex flex-wrap items-center text-[15px] print:hidden"
>
  <label
    >The circuit is <select
      class="bg-leaf"
      aria-label="How well the circuit is known"
      bind:value={known}
    >
      {#each KNOWN as one (one.confidence)}<option value={one.confidence}>{one.label}</option
        >{/each}
    </select></label
  >
  <fieldset aria-label="Paper">
    {#each ['A4', 'A5'] as const as size (size)}
      <label
        ><input
          type="radio"
          name="paper"
          class="radio radio-xs"
          checked={paper === size}
          onchange={() => choosePaper(size)}
        />
        {size}</label
      >
    {/each}
  </fieldset>
  <label
    ><input
      type="checkbox"
      class="checkbox checkbox-xs"
      checked={view.bands}
      onchange={(event) => view.showBands(event.currentTarget.checked)}
    /> with the bands</label
  >
  <span class="ml-auto gap-3.5 flex items-center">
    <button class="btn btn-sm btn-primary" onclick={() => print()}>Print</button>
    {#each FORMS as one (one.form)}
      <a
        class="link"
        href={address(one.form)}
        download="{bench.open?.name ?? 'brief'}.brief.{one.form}">{one.label}</a
      >
    {/each}
  </span>
</div>
{#if loaded.trouble}<p role="alert" class="trouble">{loaded.trouble}</p>{/if}
{#if loaded.value}
  <BriefSheet brief={loaded.value} {bench} {view} {result} small={paper === 'A5'} />
{:else if !loaded.trouble}<p class="unit px-0 py-10">Preparing the brief…</p>{/if}

<style>
  .tools label,
  fieldset {
    display: flex;
    gap: 8px;
    align-items: center;
  }
</style>
