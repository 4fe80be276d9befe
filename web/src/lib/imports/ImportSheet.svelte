<script lang="ts">
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { Importing } from './importing.svelte'
  import ImportLook from './ImportLook.svelte'

  /** Import a circuit of points, and a plan on it with what is open now. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  // svelte-ignore state_referenced_locally
  const importing = new Importing(bench)

  // A file dropped on the page is waiting to be taken up.
  $effect(() => {
    const file = view.droppedFile
    if (!file) return
    view.droppedFile = null
    void importing.choose(file)
  })

  async function keep(): Promise<void> {
    const open = bench.open
    if (!open || !(await importing.keep({ plan_id: open.id }))) return
    view.sheet = null
    view.turnToNewCircuit(importing.describesRoad)
  }
</script>

{#snippet keeping()}
  <button
    class="btn btn-primary btn-sm"
    disabled={!importing.acceptable}
    onclick={() => void keep()}>Save with boards and a plan</button
  >
  <p class="unit">The new plan uses the open car and conditions.</p>
{/snippet}

<ImportLook {importing} {view} keep={keeping} />
