<script lang="ts">
  import { untrack } from 'svelte'
  import { answer, client, sentence, type ClosureReport, type FigureRow } from '../api/client'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import { plain } from '../parts/format'

  /** Every figure that least squares would move, by how much, before any of it is accepted. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  let report = $state.raw<ClosureReport | null>(null)
  let trouble = $state('')
  let busy = $state(false)
  const units = $derived(view.units)

  $effect(() => {
    const circuit = bench.open?.plan.circuit
    untrack(async () => {
      if (!circuit) return
      const { data, error } = await answer(
        client.POST('/api/survey', { params: { query: { adjust: true } }, body: circuit }),
      )
      report = data?.closure ?? null
      trouble = data ? '' : sentence(error)
    })
  })
  const changes = $derived(
    [...(report?.changes ?? [])].sort((a, b) => Math.abs(b.sigmas) - Math.abs(a.sigmas)),
  )

  const rowOf = (figure: string): FigureRow | undefined =>
    bench.figures.rows.find(
      (row) => row.field === figure && row.group === '' && row.name.includes('.'),
    )
  const show = (value: number, figure: string): string =>
    plain(units.show(value, rowOf(figure)?.quantity ?? 'none'), 2)

  async function accept(): Promise<void> {
    busy = true
    const refused = await bench.editCircuit([{ op: 'close' }])
    busy = false
    if (refused) trouble = refused
    else {
      view.sheet = null
      bench.say('The circuit closes.', () => bench.undo())
    }
  }
</script>

<p class="mb-2 text-[14px]">
  The smallest change that closes the circuit, weighted by each figure’s uncertainty. An uncertainty
  of 0 locks a figure.
</p>
{#if trouble}<p role="alert" class="ember">{trouble}</p>{/if}
{#if report?.refused}<p role="alert" class="ember">Not closed: {report.refused}.</p>{/if}
<!-- A region that scrolls must take the keys. -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  class="mb-3 border-b border-b-rule relative max-h-[52vh] overflow-y-auto"
  role="region"
  aria-label="Figures that would move"
  tabindex="0"
>
  <table class="ruled">
    <thead>
      <tr
        ><th scope="col">Part</th><th scope="col">Figure</th><th scope="col">Before</th><th
          scope="col">After</th
        ><th scope="col">Standard deviations</th></tr
      >
    </thead>
    <tbody>
      {#each changes as change (`${change.segment}${change.figure}`)}
        <tr class:far={Math.abs(change.sigmas) > 3}>
          <th scope="row" class="place text-[15px]">{change.name}</th>
          <td
            >{rowOf(change.figure)?.label ?? change.figure}
            <span class="unit"
              >{units.unitOf(rowOf(change.figure)?.quantity ?? 'none') ||
                (rowOf(change.figure)?.unit ?? '')}</span
            ></td
          >
          <td class="figure text-right text-[16px]">{show(change.before, change.figure)}</td>
          <td class="figure text-right text-[16px]">{show(change.after, change.figure)}</td>
          <td class="figure text-right text-[16px]"
            >{change.sigmas >= 0 ? '+' : '−'}{Math.abs(change.sigmas).toFixed(2)}{Math.abs(
              change.sigmas,
            ) > 3
              ? ' too far'
              : ''}</td
          >
        </tr>
      {:else}
        <tr
          ><td colspan="5" class="unit"
            >{report || trouble ? 'Nothing to change.' : 'Calculating…'}</td
          ></tr
        >
      {/each}
    </tbody>
  </table>
</div>
<button
  class="btn btn-sm btn-primary"
  disabled={busy || !report || report.refused !== null || changes.length === 0}
  onclick={() => void accept()}>{busy ? 'Closing…' : 'Close the circuit'}</button
>

<style>
  th,
  td {
    padding: 3px 10px 3px 0;
  }
  thead th:nth-child(n + 3) {
    text-align: right;
  }
  .ember,
  .far td {
    color: var(--ember);
    font-size: 14px;
  }
</style>
