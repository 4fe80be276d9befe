<script lang="ts">
  import { untrack } from 'svelte'
  import type { LineKind } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import LinePrices from './LinePrices.svelte'
  import LineSettings from './LineSettings.svelte'
  import LineStrips from './LineStrips.svelte'
  import RoadMap from './RoadMap.svelte'
  import { LineSearch } from './search.svelte'

  /** Between the edges: the lines that could be driven, where they differ, and their price. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  // svelte-ignore state_referenced_locally
  const search = new LineSearch(bench)
  let width = $state(900)
  let beside = $state<LineKind | null>(null)
  const circuit = $derived(bench.open?.plan.circuit ?? null)
  const lines = $derived(search.lines())
  const driven = $derived(search.road?.line ?? null)
  const others = $derived(lines.filter((line) => line.kind !== driven?.kind))
  const quickest = $derived([...others].sort((a, b) => a.lap_time_s - b.lap_time_s)[0] ?? null)
  const other = $derived(others.find((line) => line.kind === beside) ?? quickest)

  $effect(() => {
    void bench.open
    untrack(() => void drawn())
  })

  /** The road drawn; on a circuit that has just come in, its line is looked for. */
  async function drawn(): Promise<void> {
    await search.draw()
    if (!view.lineWanted || !search.road) return
    view.lineWanted = false
    await search.search(['fastest'], true)
  }

  async function describeRoad(): Promise<void> {
    const refused = await bench.editCircuit([{ op: 'describe', segments_describe: 'road' }])
    if (refused) bench.say(refused)
  }
</script>

{#if circuit && circuit.segments_describe !== 'road'}
  <div class="px-0 py-10 max-w-140 text-[15px] leading-[1.45]">
    <h2 class="figure text-[24px]">A line needs the road</h2>
    <p class="mx-0 my-2">
      The straights and corners of <span class="place">{circuit.name}</span> describe the driven path:
      their radii are driven radii, and the lap follows them.
    </p>
    <p class="mx-0 my-2">
      If they describe the middle of the road instead, with its width, the line is calculated
      between the edges. The radii keep their values and become the road’s. Undo reverts it.
    </p>
    <button
      class="px-3 py-1 mt-2 border border-ink font-semibold cursor-pointer"
      onclick={() => void describeRoad()}>Use the middle of the road</button
    >
  </div>
{:else if search.trouble}
  <p role="alert" class="trouble px-0 py-7.5 text-[16px]">{search.trouble}</p>
{:else if search.road && driven && circuit}
  <div class="page px-0 py-1.5 gap-5.5 flex narrow:flex-col">
    <LineSettings road={search.road} {search} {view} />
    <div class="flex-1 min-w-0" bind:clientWidth={width}>
      <RoadMap
        road={search.road}
        {lines}
        {driven}
        {other}
        {view}
        northDeg={circuit.north_deg ?? 0}
        closed={circuit.closed ?? true}
        {width}
        height={292}
      />
      <LineStrips
        road={search.road}
        {driven}
        {other}
        {view}
        closed={circuit.closed ?? true}
        {width}
      />
    </div>
  </div>
  <LinePrices
    road={search.road}
    {lines}
    {driven}
    {other}
    {view}
    choose={(kind) => (beside = kind)}
    take={(kind) => void search.take(kind)}
  />
{:else}
  <p class="unit px-0 py-15">Drawing the road…</p>
{/if}
