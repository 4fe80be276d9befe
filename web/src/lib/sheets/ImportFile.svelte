<script lang="ts">
  import type { Workbench } from '../state/workbench.svelte'

  /** Plan documents chosen as files; faults name the field, or the line and column. */
  let { bench, done }: { bench: Workbench; done: () => void } = $props()

  let faults = $state.raw<string[]>([])
  let input: HTMLInputElement

  async function take(files: FileList | null): Promise<void> {
    const found: string[] = []
    for (const file of files ?? []) found.push(...(await bench.takeFile(file)))
    faults = found
    if (found.length === 0) done()
    input.value = ''
  }
</script>

<label class="btn btn-sm btn-outline">
  Import a plan file
  <input
    bind:this={input}
    type="file"
    class="sr-only"
    accept=".json,application/json"
    multiple
    onchange={(event) => void take(event.currentTarget.files)}
  />
</label>
{#if faults.length > 0}
  <ul class="text-ember list-inside list-[square] w-full" role="alert">
    {#each faults as fault (fault)}<li>{fault}</li>{/each}
  </ul>
{/if}

<style>
  label:focus-within {
    outline: 2px solid var(--cool);
  }
</style>
