<script lang="ts">
  import { untrack } from 'svelte'
  import { plain, timeDifference, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import StretchBars from './StretchBars.svelte'
  import StudyHead from './StudyHead.svelte'
  import type { Studies } from './studies.svelte'

  /** What is worth most: every figure stepped by its own step, ranked; who pays for whom. */
  let { bench, view, studies }: { bench: Workbench; view: View; studies: Studies } = $props()

  let steps = $state.raw<Record<string, number>>({})
  let scatter = $state<number | null>(null)
  let opened = $state<string | null>(null)

  const job = $derived(studies.jobs.worth)
  const ranking = $derived(job?.ranking ?? null)
  const most = $derived(Math.max(0.01, ...(ranking?.rows ?? []).map((row) => Math.abs(row.gain_s))))
  const row = $derived(ranking?.rows.find((one) => one.axis === opened) ?? null)

  $effect(() => {
    void studies.axes
    untrack(() => {
      if (!job && studies.axes.length > 0) drive()
    })
  })

  function drive(): void {
    void studies.rank(steps, scatter)
  }
  function stepped(axis: string, field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    const known = studies.axis(axis)
    if (value === null || value <= 0 || !known) {
      field.value = shownStep(axis)
      return
    }
    const { quantity } = known
    steps = { ...steps, [axis]: view.units.read(value, quantity) - view.units.read(0, quantity) }
    drive()
  }
  function shownStep(axis: string): string {
    const known = studies.axis(axis)
    const step = steps[axis] ?? studies.steps.find((one) => one.axis === axis)?.step
    if (!known || step === undefined) return ''
    const { quantity, decimals } = known
    return plain(view.units.showDifference(step, quantity), decimals + 1)
  }
  const unit = (axis: string): string => {
    const known = studies.axis(axis)
    return known ? view.units.unitFor(known) : ''
  }
  function scattered(field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    if (value === null || value <= 0 || value > 10) {
      field.value = String(scatter ?? ranking?.scatter_s ?? '')
      return
    }
    scatter = value
    drive()
  }
</script>

<StudyHead {studies} kind="worth" again={drive} said={ranking?.said} testid="ranking-said">
  <label
    >Lap-to-lap spread <input
      class="dotted-below w-11.5 font-figures text-[15px] font-semibold bg-transparent text-right"
      inputmode="decimal"
      value={scatter ?? ranking?.scatter_s ?? ''}
      onchange={(event) => scattered(event.currentTarget)}
    /> <span class="unit">s, one standard deviation</span></label
  >
</StudyHead>
{#if ranking}
  <div class="columns gap-6.5 flex narrow:flex-col">
    <div class="list flex-1 min-w-0 overflow-x-auto">
      <table class="ruled" data-testid="ranking">
        <caption class="sr-only">Gain per step, largest first</caption>
        <thead>
          <tr>
            <th scope="col">One step</th>
            <th scope="col" class="roomy">Step</th>
            <th scope="col" class="roomy"><span class="sr-only">Gain as a bar</span></th>
            <th scope="col" class="number">Gain s</th>
            <th scope="col" class="number roomy">80 % band</th>
            <th scope="col" class="number roomy">Opposite step s</th>
            <th scope="col" class="number">Laps to confirm</th>
          </tr>
        </thead>
        <tbody>
          {#each ranking.rows as one (one.axis)}
            <tr class:now={one.axis === opened} class:doubtful={one.sure === false}>
              <th scope="row"
                ><button
                  class="cursor-pointer text-left"
                  aria-pressed={one.axis === opened}
                  onclick={() => (opened = one.axis === opened ? null : one.axis)}
                  >{one.said}</button
                >{#if one.sure === false}<span class="sr-only">, not clearly ahead of the next</span
                  >{/if}</th
              >
              <td class="roomy"
                >{#if one.step !== null}<input
                    class="dotted-below w-11.5 font-figures text-[15px] font-semibold bg-transparent text-right"
                    inputmode="decimal"
                    aria-label="Step of {one.label}"
                    value={shownStep(one.axis)}
                    onchange={(event) => stepped(one.axis, event.currentTarget)}
                  />
                  <span class="unit">{unit(one.axis)}</span>{/if}</td
              >
              <td class="roomy"
                ><svg class="inline-block" width="170" height="14" aria-hidden="true"
                  ><path d="M85 0V14" stroke="var(--rule)" /><path
                    d="M85 7h{(84 * one.gain_s) / most}"
                    stroke={one.settable ? 'var(--ink)' : 'var(--coast)'}
                    stroke-width="7"
                  />{#if one.gain_band}<path
                      d="M{85 + (84 * one.gain_band.low) / most} 7H{85 +
                        (84 * one.gain_band.high) / most}"
                      stroke="var(--cool)"
                      stroke-width="1.6"
                    />{/if}</svg
                ></td
              >
              <td class="number figure">{timeDifference(one.gain_s)}</td>
              <td class="number unit roomy"
                >{one.gain_band
                  ? `${timeDifference(one.gain_band.low)} to ${timeDifference(one.gain_band.high)}`
                  : ''}</td
              >
              <td class="number roomy"
                >{one.other_s === null ? '' : timeDifference(-one.other_s)}</td
              >
              <td class="number"
                >{one.laps_to_see === null
                  ? ''
                  : one.laps_to_see > 200
                    ? 'too many'
                    : `2 × ${one.laps_to_see}`}</td
              >
            </tr>
          {/each}
        </tbody>
      </table>
      <p class="unit">
        Dark bars can be changed before the next run; light bars are built in, given, or the
        driver’s. A bracket joins rows whose order is uncertain.
      </p>
    </div>
    <div class="flex-none w-80 narrow:w-full">
      {#if row}
        <h2 class="figure text-[18px]">{row.said}</h2>
        {#if row.paid}<p class="pb-1.5 text-[15px] leading-[1.35]">{row.paid}</p>{/if}
        <StretchBars
          stretches={ranking.stretches}
          changes={row.stretches_s}
          result={bench.result}
        />
        {#if row.settable}
          <button
            class="link pt-1 block"
            disabled={studies.stale('worth')}
            onclick={() => void studies.take([{ axis: row.axis, value: row.value }])}
            >Apply to plan</button
          >
        {/if}
        <button
          class="link pt-1 block"
          onclick={() => {
            view.axis = row.axis
            view.tradeTab = 'one'
          }}>vary it along its range</button
        >
      {:else}
        <p class="unit">Choose a row to see where the time is gained and lost.</p>
      {/if}
    </div>
  </div>
{/if}

<style>
  th,
  td {
    padding: 0 10px 0 0;
    white-space: nowrap;
    line-height: 1.25;
  }
  tbody th {
    position: relative;
    padding-left: 10px;
  }
  .doubtful th::before {
    content: '';
    position: absolute;
    left: 0;
    top: 50%;
    height: 100%;
    width: 5px;
    border: 1.5px solid var(--ink-2);
    border-right: 0;
  }
  @media (max-width: 700px) {
    .roomy {
      display: none;
    }
    tbody th {
      white-space: normal;
    }
  }
</style>
