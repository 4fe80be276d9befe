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

<section class="start">
  <h2 class="figure">Nothing is kept here yet</h2>
  <p>
    Look around in the demo world first, or begin with what you know of a car and a circuit: three
    short steps, and the lap is there.
  </p>
  <div class="row">
    <button class="btn btn-primary" disabled={busy} onclick={() => void openDemo()}
      >{busy ? 'Laying out the demo world…' : 'Open the demo world'}</button
    >
    <ImportFile {bench} done={() => undefined} />
  </div>
  <FirstSteps {bench} {view} />
</section>

<style>
  .start {
    max-width: 860px;
    padding: 26px 0;
    font-size: 15px;
  }
  h2 {
    font-size: 30px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 12px;
    align-items: center;
    margin: 14px 0 22px;
  }
</style>
