<script lang="ts">
  import type { FitFound, TakenFigure } from '../api/client'
  import { moment, plain, timeDifference } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import MisfitPlot from './MisfitPlot.svelte'
  import FigureInterval from './FigureInterval.svelte'
  import type { Learning } from './learning.svelte'
  import type { Logbook } from './logbook.svelte'

  /** What runs teach of the plan's figures: how far off, how sure, from what; and taken over. */
  let { book, view, learning }: { book: Logbook; view: View; learning: Learning } = $props()

  type Figure = FitFound['figures'][number]
  const runs = $derived(book.taken)
  const names = $derived(book.here.filter((run) => runs.includes(run.id)).map((run) => run.name))
  const found = $derived(learning.found)
  const units = $derived(view.units)
  const running = $derived(learning.job?.state === 'running')
  /** What is blamed for each figure that is to be taken over; '' leaves it. */
  let blamed = $state<Record<string, string>>({})
  $effect(() => {
    const fit = learning.job?.fit
    blamed = Object.fromEntries(
      (fit?.figures ?? []).map((one) => [
        one.name,
        one.claim === 'otherwise' ? (blames(one.name)[0] ?? '') : '',
      ]),
    )
  })
  const blames = (name: string): string[] =>
    learning.choices.find((one) => one.name === name)?.blames ?? []
  const taken = $derived(
    Object.entries(blamed)
      .filter(([, on]) => on !== '')
      .map(([name, on]) => ({ name, blamed: on }) as TakenFigure),
  )
  const winds = (name: string): boolean => name.startsWith('wind')
  function change(one: Figure): string {
    const value = winds(one.name) ? units.show(one.value, 'wind') : 100 * one.value
    return timeDifference(value, 1)
  }
  function within(one: Figure, value: number): string {
    return plain(winds(one.name) ? units.show(value, 'wind') : 100 * value, 1)
  }
  const unit = (one: Figure): string => (winds(one.name) ? units.unitOf('wind') : '%')
  const speed = (value: number): string => timeDifference(units.speed(value), 1)
</script>

<p class="px-0 py-1.5 gap-x-3.5 gap-y-1 flex flex-wrap items-center">
  {#if running && learning.job}
    <progress
      class="border border-ink w-40 h-2 [appearance:none]"
      max={learning.job.of}
      value={learning.job.done}
      aria-label="Runs read"
    ></progress>
    <span class="unit">reading the runs and fitting…</span>
    <button class="link" onclick={() => void learning.stop()}>Stop</button>
  {:else}
    <button
      class="btn btn-sm btn-outline"
      disabled={runs.length === 0}
      onclick={() => void learning.learn(runs)}
      >Fit to {names.length === 1 ? names[0] : `${names.length} runs`}</button
    >
    {#if learning.stale(runs) && !learning.evidence}<span class="font-semibold" role="status"
        >The plan or the chosen runs have changed since this fit.</span
      >{/if}
  {/if}
  {#each learning.kept as one (one.id)}
    <button class="link" onclick={() => void learning.look(one.id)}
      >Fit of {moment(one.made_at)}</button
    >
  {/each}
</p>
{#if learning.trouble}<p role="alert" class="trouble text-[15px]">{learning.trouble}</p>{/if}
{#if found}
  {#if learning.evidence}
    <p class="unit">
      Applied on {moment(found.made_at)}: {found.taken
        ?.map((one) => `${one.name.replace('_', ' ')} on the ${one.blamed}`)
        .join(', ') || 'the band only'}. {found.name}.
      <button class="link" onclick={() => (learning.evidence = null)}>Close</button>
    </p>
  {/if}
  <div
    class="px-0 py-1 font-figures text-[17px] leading-[1.3]"
    data-testid="fit-said"
    aria-live="polite"
  >
    {#each found.lack as one (one)}<p class="font-semibold" role="alert">{one}</p>{/each}
    {#each found.said as one (one)}<p>{one}</p>{/each}
  </div>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Figures fitted">
    <table class="ruled" data-testid="fit-figures">
      <caption class="sr-only">Fitted figures with their bands and sources</caption>
      <thead>
        <tr>
          <th scope="col">Figure</th>
          <th scope="col" class="number text-right">Difference</th>
          <th scope="col">80 % band</th>
          <th scope="col">before | now</th>
          <td></td>
          {#if !learning.evidence}<th scope="col">Apply to</th>{/if}
          <th scope="col">Conclusion</th>
        </tr>
      </thead>
      <tbody>
        {#each found.figures as one (one.name)}
          <tr class:wrong={one.claim === 'otherwise'}>
            <th scope="row" class="figure">{one.label}</th>
            <td class="number figure text-right"
              >{change(one)} <span class="unit">{unit(one)}</span></td
            >
            <td class="figure">± {within(one, one.within)}</td>
            <td><FigureInterval figure={one} /></td>
            <td>{one.claim_said}</td>
            {#if !learning.evidence}
              <td>
                <select
                  class="dotted-below bg-transparent text-[14px]"
                  aria-label="Apply {one.label} to"
                  value={blamed[one.name] ?? ''}
                  onchange={(event) =>
                    (blamed = { ...blamed, [one.name]: event.currentTarget.value })}
                >
                  <option value="">as entered</option>
                  {#each blames(one.name) as on (on)}<option value={on}>the {on}</option>{/each}
                </select>
              </td>
            {/if}
            <td class="words">{one.said}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  {#if !learning.evidence}
    <p class="px-0 py-1.5 gap-x-3.5 gap-y-1 flex flex-wrap items-center">
      <button
        class="btn btn-sm btn-outline"
        disabled={running || learning.stale(runs)}
        onclick={() => void learning.take(taken)}
        >{taken.length > 0 ? 'Apply to plan' : 'Narrow the band only'}</button
      >
      <span class="unit"
        >as new revisions, with this fit as evidence; the plan’s band narrows to the fitted one.
        Undo reverts it.</span
      >
    </p>
  {/if}
  <div class="columns pt-2 gap-6 grid grid-cols-[1fr_1fr] narrow:grid-cols-[1fr]">
    <section>
      <h3>Where the best lap of the last run differs from the plan</h3>
      <ul>
        {#each found.parts as part (part.cause)}<li>{part.said}</li>{/each}
      </ul>
      <h3>What cannot be separated</h3>
      <ul>
        {#each found.apart as one (one)}<li>{one}</li>{:else}<li>None.</li>{/each}
      </ul>
      <h3>The driver</h3>
      <ul>
        {#each found.driver as one (one)}<li>{one}</li>{/each}
      </ul>
    </section>
    <section>
      <h3>
        Speeds at the plan’s minimum-speed points, against the plan, before and after the fit, {units.speedUnit}
      </h3>
      <MisfitPlot {found} {units} />
      <p class="unit">Hollow: before the fit. Solid: after it. Right of zero: driven faster.</p>
      <p class="unit">
        Each is the mean over 16 m around the plan’s minimum-speed point, so that noise does not
        lower it. The minimum speeds in “Laps compared” are the lowest of each lap, wherever they
        occur.
      </p>
      <table class="ruled" data-testid="fit-misfits">
        <tbody>
          {#each found.misfits as one (one.corner)}
            <tr>
              <th scope="row" class="place">{one.corner}</th>
              <td class="number figure text-right">{speed(one.before_ms)}</td>
              <td class="number figure text-right">{speed(one.after_ms)}</td>
              <td class="unit">{one.laps} laps</td>
            </tr>
          {/each}
        </tbody>
      </table>
      <details>
        <summary class="figure pt-1.5 cursor-pointer text-[16px]">Working</summary>
        <ol>
          {#each found.working as one (one)}<li>{one}</li>{/each}
        </ol>
      </details>
      {#if learning.evidence && learning.kept[0]}
        <a class="link" href="/api/fits/{learning.kept[0].id}/fit.json" download>JSON</a>
      {/if}
    </section>
  </div>
{:else if !running}
  <p class="px-0 py-6 max-w-155 text-[15px]">
    The model is fitted to the chosen runs: cornering speeds, full-throttle acceleration,
    straight-line braking. It starts from the plan’s figures and their bands; what the laps cannot
    show stays as entered, and is listed.
  </p>
{/if}

<style>
  progress::-webkit-progress-bar {
    background: var(--paper);
  }
  progress::-webkit-progress-value {
    background: var(--ink);
  }
  th,
  td {
    white-space: nowrap;
  }
  td.words {
    white-space: normal;
    font-size: 13px;
    width: 38%;
  }
  tbody th {
    white-space: normal;
    min-width: 100px;
  }
  .wrong th,
  .wrong .number {
    box-shadow: inset 3px 0 0 var(--ink);
    padding-left: 8px;
  }
  .wrong .number {
    box-shadow: none;
  }
  h3 {
    font-family: var(--figures);
    font-weight: 600;
    font-size: 16px;
    padding-top: 6px;
  }
  li {
    padding: 1px 0;
    font-size: 14px;
  }
  ol {
    list-style: decimal;
    padding-left: 20px;
  }
</style>
