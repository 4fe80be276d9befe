<script lang="ts">
  import { untrack } from 'svelte'
  import { answer, client, sentence, type HistoryStep } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { lapTime, moment, timeDifference } from '../parts/format'

  /** What was done to the plan, what each step was worth, and each state to compare with. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  let steps = $state.raw<HistoryStep[] | null>(null)
  let trouble = $state('')

  $effect(() => {
    const open = bench.open
    untrack(async () => {
      if (!open) return
      const { data, error } = await answer(
        client.GET('/api/plans/{plan_id}/history', { params: { path: { plan_id: open.id } } }),
      )
      trouble = data ? '' : sentence(error)
      if (data) steps = data
    })
  })

  async function compare(step: HistoryStep): Promise<void> {
    if (!bench.open) return
    await bench.compareWith(bench.open.id, step.revisions, `After “${step.label}”`)
    view.sheet = null
  }
</script>

<div class="mb-2.5 gap-2.5 flex flex-wrap">
  <button
    class="btn btn-sm btn-outline"
    disabled={!bench.open?.undo}
    onclick={() => void bench.undo()}>Undo {bench.open?.undo ?? ''}</button
  >
  <button
    class="btn btn-sm btn-outline"
    disabled={!bench.open?.redo}
    onclick={() => void bench.redo()}>Redo {bench.open?.redo ?? ''}</button
  >
</div>
{#if trouble}<p role="alert" class="trouble">{trouble}</p>{/if}
<table class="w-full">
  <thead>
    <tr
      ><th scope="col">Step</th><th scope="col" class="number">Worth, s</th><th
        scope="col"
        class="number">Lap</th
      ><th scope="col">When</th><th scope="col"><span class="sr-only">Compare</span></th></tr
    >
  </thead>
  <tbody>
    {#each steps ?? [] as step (step.id)}
      <tr class:undone={step.undone}>
        <td
          >{step.label}{#if step.undone}<span class="unit">, undone</span>{/if}</td
        >
        <td class="number figure">{step.worth_s === null ? '' : timeDifference(step.worth_s)}</td>
        <td class="number figure">{step.lap_time_s === null ? '' : lapTime(step.lap_time_s)}</td>
        <td class="unit">{moment(step.made_at)}</td>
        <td
          ><button class="link" onclick={() => void compare(step)}
            >Compare<span class="sr-only"> with the plan after {step.label}</span></button
          ></td
        >
      </tr>
    {:else}
      <tr
        ><td colspan="5" class="unit"
          >{steps === null ? 'Calculating the laps…' : 'No changes yet.'}</td
        ></tr
      >
    {/each}
  </tbody>
</table>

<style>
  th {
    text-align: left;
    color: var(--ink-2);
    font-weight: 500;
  }
  td,
  th {
    padding: 3px 12px 3px 0;
    border-bottom: 1px solid var(--hair);
  }
  td {
    font-size: 14px;
  }
  .number {
    text-align: right;
    font-size: 16px;
    white-space: nowrap;
  }
  th.number {
    font-size: 13px;
  }
  .undone td:first-child {
    color: var(--ink-2);
    text-decoration: line-through;
  }
  .undone td:first-child span {
    display: inline-block;
    text-decoration: none;
  }
</style>
