<script lang="ts">
  import { answer, client, sentences } from '../api/client'
  import { Importing } from '../imports/importing.svelte'
  import ImportLook from '../imports/ImportLook.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { View } from '../state/view.svelte'
  import FirstAir from './FirstAir.svelte'
  import FirstCar from './FirstCar.svelte'
  import { FirstEntry } from './firstEntry.svelte'
  import FirstParts from './FirstParts.svelte'

  /** Car, circuit, conditions: what a person knows, in three steps, and the plan made of it. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  const TITLES = ['The car', 'The circuit', 'The conditions']
  // svelte-ignore state_referenced_locally
  const entry = new FirstEntry(view)
  // svelte-ignore state_referenced_locally
  const importing = new Importing(bench)
  let step = $state(0)
  /** Whether the circuit comes from a file of points instead of being typed. */
  let fromFile = $state(false)
  let faults = $state.raw<string[]>([])
  let busy = $state(false)
  const units = $derived(view.units)

  $effect(() => entry.speak(units))

  // A file of points dropped on the page is the circuit.
  $effect(() => {
    const file = view.droppedFile
    if (!file) return
    view.droppedFile = null
    fromFile = true
    step = 1
    void importing.choose(file)
  })

  function next(event: SubmitEvent): void {
    event.preventDefault()
    faults = []
    if (step < 2) step += 1
    else void (fromFile ? keep() : make())
  }

  /** Back to the step that a fault is about. */
  function refuse(said: string[], path: string): void {
    faults = said
    step = /^(first\.)?car\b/.test(path) ? 0 : path.startsWith('circuit') ? 1 : step
  }

  async function make(): Promise<void> {
    busy = true
    const { data, error } = await answer(client.POST('/api/plans/first', { body: entry.plan() }))
    busy = false
    if (data) await bench.show(data.plan_id)
    else refuse(sentences(error), error?.faults[0]?.path ?? '')
  }

  async function keep(): Promise<void> {
    if (!importing.acceptable) {
      refuse(['The circuit is not ready: choose a file and answer its questions.'], 'circuit')
      return
    }
    busy = true
    const kept = await importing.keep({ first: entry.drive() })
    busy = false
    if (kept) view.turnToNewCircuit(importing.describesRoad)
    else refuse(importing.faults, importing.faults[0] ?? '')
  }
</script>

{#snippet nothing()}{/snippet}

<ol class="steps gap-x-5.5 gap-y-1 double-below flex flex-wrap" aria-label="Steps">
  {#each TITLES as title, index (title)}
    <li aria-current={step === index ? 'step' : undefined}>
      <button
        class="figure px-0 py-1 text-[19px] cursor-pointer text-ink-2"
        onclick={() => (step = index)}>{index + 1} {title}</button
      >
    </li>
  {/each}
</ol>
{#if step === 1}
  <fieldset class="px-0 pt-3.5 pb-1.5 gap-x-5.5 gap-y-2 flex flex-wrap">
    <legend class="sr-only">Where the circuit comes from</legend>
    <label class="gap-1.5 flex items-center"
      ><input type="radio" class="radio radio-xs" bind:group={fromFile} value={false} /> Straights and
      corners, typed</label
    >
    <label class="gap-1.5 flex items-center"
      ><input type="radio" class="radio radio-xs" bind:group={fromFile} value={true} /> A file of points
      (GPX, GeoJSON, CSV), chosen here or dropped on the page</label
    >
  </fieldset>
  {#if fromFile}<ImportLook {importing} {view} keep={nothing} />{/if}
{/if}
<form class="px-0 py-3.5" onsubmit={next}>
  {#if step === 0}
    <FirstCar {entry} {units} />
  {:else if step === 1 && !fromFile}
    <FirstParts {entry} {units} />
  {:else if step === 2}
    <FirstAir {entry} {units} />
  {/if}
  {#if faults.length > 0}
    <ul role="alert" class="text-ember list-inside list-[square]">
      {#each faults as fault (fault)}<li>{fault}</li>{/each}
    </ul>
  {/if}
  <div class="mx-0 my-2.5 gap-4.5 flex">
    {#if step > 0}
      <button type="button" class="btn btn-sm btn-outline" onclick={() => (step -= 1)}>Back</button>
    {/if}
    <button
      class="btn btn-sm btn-primary"
      disabled={busy || (step === 1 && fromFile && !importing.acceptable)}
      >{step < 2 ? 'Next' : busy ? 'Predicting…' : 'Predict the lap'}</button
    >
  </div>
</form>

<style>
  .steps [aria-current] button {
    color: var(--ink);
    border-bottom: 3px solid var(--ink);
  }
</style>
