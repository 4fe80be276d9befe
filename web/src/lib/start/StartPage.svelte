<script lang="ts">
  import { answer, client, sentence } from '../api/client'
  import type { Workbench } from '../state/workbench.svelte'
  import type { View } from '../state/view.svelte'
  import ImportFile from '../sheets/ImportFile.svelte'
  import FirstSteps from './FirstSteps.svelte'

  /** An empty store: the demo world, a file, or a first car and circuit in three steps. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  let busy = $state(false)

  async function openDemo(): Promise<void> {
    busy = true
    const { data, error } = await answer(client.POST('/api/demo'))
    busy = false
    if (data) await bench.show(data.plan_id)
    else bench.say(sentence(error))
  }
</script>

<section class="px-0 py-6.5 max-w-215 text-[15px]">
  <h2 class="figure text-[30px]">No plans yet</h2>
  <p>
    Open the demo first, or start with what you know of a car and a circuit: three short steps to a
    lap.
  </p>
  <div class="mx-0 mt-3.5 mb-5.5 gap-3 flex flex-wrap items-center">
    <button class="btn btn-primary" disabled={busy} onclick={() => void openDemo()}
      >{busy ? 'Loading the demo…' : 'Open the demo'}</button
    >
    <ImportFile {bench} done={() => undefined} />
  </div>
  <FirstSteps {bench} {view} />
</section>
