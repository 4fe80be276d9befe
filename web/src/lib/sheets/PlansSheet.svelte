<script lang="ts">
  import { answer, client, sentence } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import FigureTable from './FigureTable.svelte'
  import Finder from './Finder.svelte'
  import ImportFile from './ImportFile.svelte'
  import NameField from './NameField.svelte'

  /** The open plan’s own name and figures, and every other plan. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  /** A new plan of the same parts, to be changed from there. */
  async function make(): Promise<void> {
    const open = bench.open
    if (!open) return
    const { data, error } = await answer(
      client.POST('/api/plans', {
        body: {
          name: `New plan, ${open.car.name}, ${open.circuit.name}`,
          car_id: open.car.id,
          circuit_id: open.circuit.id,
          conditions_id: open.conditions.id,
          fuel_kg: bench.figure('fuel_kg') ?? 0,
        },
      }),
    )
    if (data) await bench.show(data.plan_id)
    else bench.say(sentence(error))
  }
</script>

{#if bench.open}
  <NameField
    label="Name of this plan"
    value={bench.open.name}
    save={(name) => void bench.choose({ name })}
  />
  <div class="own mt-2"><FigureTable {bench} {view} owner="plan" /></div>
{/if}
<div class="mb-2.5 gap-2.5 flex flex-wrap">
  <button class="btn btn-sm btn-outline" onclick={() => void make()}
    >New plan of the same parts</button
  >
  <ImportFile {bench} done={() => (view.sheet = null)} />
</div>
<Finder
  {bench}
  {view}
  kind="plan"
  chosen={bench.open?.id ?? null}
  action="Open"
  choose={(item) => {
    void bench.show(item.id)
    view.sheet = null
  }}
/>
