<script lang="ts">
  import type { Result } from '../api/client'
  import { plain } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import ChangedPart from './ChangedPart.svelte'
  import LapHeld from './LapHeld.svelte'
  import type { Logbook } from './logbook.svelte'
  import RunLaps from './RunLaps.svelte'
  import RunRecord from './RunRecord.svelte'
  import SeenPart from './SeenPart.svelte'

  /** One run: what it was driven on, what changed, its laps, and one of them held against another. */
  let { book, view, result, width }: { book: Logbook; view: View; result: Result; width: number } =
    $props()

  const run = $derived(book.open?.run ?? null)
  const units = $derived(view.units)
</script>

{#if run && book.open}
  <div class="head gap-3.5 flex justify-between items-baseline">
    <input
      class="name flex-1 dotted-below font-figures text-[22px] font-semibold bg-transparent min-w-0"
      aria-label="Name of the run"
      value={run.name}
      onchange={(event) => void book.write({ name: event.currentTarget.value || run.name })}
    />
    <span class="gap-3.5 flex whitespace-nowrap">
      <a class="link" href="/api/runs/{book.open.id}/run.csv" download>CSV</a>
      <a class="link" href="/api/runs/{book.open.id}/run.json" download>JSON</a>
      <button class="link" onclick={() => void book.drop()}>Remove this run</button>
    </span>
  </div>
  <p class="unit">
    {run.simulated ? 'Simulated: not a real run. ' : ''}{run.car}{run.setup
      ? `, ${run.setup}`
      : ''}, {run.conditions}; plan {run.plan}, revision {run.revisions?.plan} (car {run.revisions
      ?.car}, circuit {run.revisions?.circuit}, conditions {run.revisions
      ?.conditions}){#if run.log}; log aligned to the circuit within {plain(
        units.length(run.misfit_m ?? 0),
        1,
      )}
      {units.lengthUnit}{/if}
  </p>
  <div class="font-figures text-[16px] leading-[1.3]" aria-live="polite" data-testid="run-said">
    {#each book.open.said ?? [] as one (one)}<p>{one}</p>{/each}
  </div>
  {#if run.log}<LapHeld {book} {view} {result} {width} />{/if}
  <ChangedPart {book} />
  <RunLaps {book} {view} />
  <details class="pt-2" open={!run.log} data-testid="run-sheet">
    <summary class="figure cursor-pointer text-[17px]"
      >Run sheet <span class="unit">session, driver, tyres, fuel, date, record</span></summary
    >
    <RunRecord {book} {units} />
  </details>
  <SeenPart {book} {view} />
  <label class="pt-2 block"
    ><span class="unit">Remarks</span>
    <textarea
      class="px-1.5 py-1 border border-rule w-full font-figures text-[15px] bg-leaf"
      rows="2"
      aria-label="Remarks on the run"
      value={run.remarks}
      onchange={(event) => void book.write({ remarks: event.currentTarget.value })}
    ></textarea></label
  >
{:else if book.season}
  <p class="px-0 py-10 max-w-140 text-[15px]">
    Drop logger files here, or import them: laps are found on this circuit and compared with the
    plan corner by corner. Time, speed, and position or lateral acceleration are needed; pedals and
    gear help. Or type a run: lap times, one per line, and corner observations.
  </p>
{/if}
