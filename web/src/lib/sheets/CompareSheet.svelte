<script lang="ts">
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import Finder from './Finder.svelte'

  /** What the lap is set against: itself as it stands, any plan, or a step of its own history. */
  let { bench, view }: { bench: Workbench; view: View } = $props()
</script>

<p class="mb-2.5 text-[14px]">
  {#if bench.open?.baseline}
    Compared with <span class="place">{bench.open.baseline.title}</span>.
  {:else}
    No baseline yet.
  {/if}
  A baseline does not change when the plan does.
</p>
<div class="mb-2.5 gap-2.5 flex flex-wrap">
  <button
    class="btn btn-sm btn-outline"
    onclick={() => {
      void bench.pinBaseline()
      view.sheet = null
    }}>Pin this lap as it stands <kbd class="kbd kbd-sm">B</kbd></button
  >
  <button class="btn btn-sm btn-outline" onclick={() => (view.sheet = 'history')}
    >A step of this plan’s history <kbd class="kbd kbd-sm">H</kbd></button
  >
  {#if bench.open?.baseline}
    <button
      class="btn btn-sm btn-outline"
      onclick={() => {
        void bench.dropBaseline()
        view.sheet = null
      }}>Compare with nothing</button
    >
  {/if}
</div>
<h3 class="figure text-[18px]">A plan, its newest state</h3>
<Finder
  {bench}
  {view}
  kind="plan"
  chosen={bench.open?.baseline?.plan_id ?? null}
  action="Compare with"
  keeping={false}
  choose={(item) => {
    void bench.compareWith(item.id, null, item.name)
    view.sheet = null
  }}
/>
