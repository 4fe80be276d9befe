<script lang="ts">
  import { untrack } from 'svelte'
  import type { Result } from '../api/client'
  import { lapTime, plain, timeDifference, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import LapsPlot from './LapsPlot.svelte'
  import { Logbook } from './logbook.svelte'

  /** What was driven, held against what was predicted: runs, their laps, and where the time went. */
  let { bench, view, result }: { bench: Workbench; view: View; result: Result } = $props()

  const KINDS: Record<string, string> = {
    timed: '',
    slow: 'slow',
    stop: 'with a stop',
    out: 'out lap',
    in: 'in lap',
  }
  // svelte-ignore state_referenced_locally
  const book = new Logbook(bench, view)
  let width = $state(860)
  let seed = $state(1)
  let places = $state(true)

  const run = $derived(book.open?.run ?? null)
  const lap = $derived(book.lap)
  const units = $derived(view.units)

  $effect(() => {
    void bench.open?.id
    void view.run
    void view.lap
    untrack(() => void book.load())
  })
  // What is said of a lap is said in the units of the page.
  $effect(() => {
    void view.system
    untrack(() => {
      if (book.lap) {
        const number = book.lap.number
        book.lap = null
        void book.look(view.run, number)
      }
    })
  })

  function opened(field: HTMLInputElement): void {
    const file = field.files?.[0]
    if (file) void book.read(file)
    field.value = ''
  }
  function dropped(event: DragEvent): void {
    const file = event.dataTransfer?.files[0]
    if (!file || !/\.(csv|txt|tsv)$/i.test(file.name)) return
    event.preventDefault()
    event.stopPropagation()
    void book.read(file)
  }
  const metres = (value: number | null | undefined): string =>
    value === null || value === undefined
      ? ''
      : `${plain(units.length(Math.abs(value)), 0)}${value < 0 ? ' into it' : ''}`
  const speed = (value: number): string => plain(units.speed(value), 1)
</script>

<!-- A log is dropped anywhere on the view. -->
<div class="page" role="region" aria-label="Logbook" ondrop={dropped}>
  <div class="left">
    <h2>Runs at {bench.open?.circuit.name ?? ''}</h2>
    {#if book.runs && book.runs.length === 0}
      <p class="unit">No run was kept here yet.</p>
    {/if}
    <ul data-testid="runs">
      {#each book.runs ?? [] as one (one.id)}
        <li class:now={one.id === view.run}>
          <button onclick={() => void book.look(one.id)}
            ><span class="figure">{one.best_lap_s ? lapTime(one.best_lap_s) : 'no time'}</span>
            {one.name}
            <span class="unit">{one.driven_at.slice(0, 16).replace('T', ' ')}, {one.car}</span
            ></button
          >
        </li>
      {/each}
    </ul>
    <p>
      <label class="link file"
        >Read a logger’s file…<input
          class="sr-only"
          type="file"
          accept=".csv,.txt,.tsv"
          onchange={(event) => opened(event.currentTarget)}
        /></label
      >
    </p>
    <fieldset>
      <legend>Without a logger: a simulated run</legend>
      <label
        >seed <input
          inputmode="numeric"
          aria-label="Seed of the simulated run"
          value={seed}
          onchange={(event) => {
            const value = typedNumber(event.currentTarget.value)
            if (value !== null && value >= 0) seed = Math.round(value)
            event.currentTarget.value = String(seed)
          }}
        /></label
      >
      <label><input type="checkbox" bind:checked={places} /> logs positions</label>
      <button
        class="link"
        disabled={book.working !== ''}
        onclick={() =>
          void book.simulate({ laps: null, seed, rate_hz: null, places, speed_pct: null })}
        >drive it</button
      >
      <p class="unit">
        A simulated driver, in a car that is not quite what its sheet says, with instruments that
        are not quite right.
      </p>
    </fieldset>
    {#if book.working}<p role="status">{book.working}</p>{/if}
    {#if book.trouble}<p role="alert" class="trouble">{book.trouble}</p>{/if}
  </div>
  <div class="right" bind:clientWidth={width}>
    {#if run && book.open}
      <div class="head">
        <input
          class="name"
          aria-label="Name of the run"
          value={run.name}
          onchange={(event) => void book.say({ name: event.currentTarget.value || run.name })}
        />
        <span class="links">
          <a class="link" href="/api/runs/{book.open.id}/run.csv" download>CSV</a>
          <a class="link" href="/api/runs/{book.open.id}/run.json" download>JSON</a>
          <button class="link" onclick={() => void book.drop()}>take it out</button>
        </span>
      </div>
      <p class="unit">
        {run.simulated ? 'Simulated: no vehicle drove it. ' : ''}{run.car}{run.setup
          ? `, ${run.setup}`
          : ''}, {run.conditions}; plan {run.plan}, revision {run.revisions?.plan} (car {run
          .revisions?.car}, circuit {run.revisions?.circuit}, conditions {run.revisions
          ?.conditions}); log laid along the circuit within {plain(units.length(run.misfit_m), 1)}
        {units.lengthUnit}
      </p>
      <div class="answer" aria-live="polite" data-testid="run-said">
        {#each book.open.said as one (one)}<p>{one}</p>{/each}
      </div>
      <div class="laps" role="group" aria-label="Laps" data-testid="laps">
        {#each run.laps as one (one.number)}
          <button
            aria-pressed={view.lap === one.number}
            disabled={one.lap_time_s === null || one.lap_time_s === undefined}
            onclick={() => void book.look(view.run, one.number)}
            ><span class="unit">{one.number}</span>
            <span class="figure">{one.lap_time_s ? lapTime(one.lap_time_s) : '–'}</span>
            {#if KINDS[one.kind]}<span class="unit">{KINDS[one.kind]}</span>{/if}</button
          >
        {/each}
      </div>
      {#if lap}
        <p class="said" data-testid="lap-said">
          Lap {lap.number}, <span class="figure">{lapTime(lap.lap_time_s)}</span>: {lap.said.join(
            ' ',
          )}
        </p>
        <LapsPlot {lap} {result} {view} {width} />
        <div class="scroll">
          <table class="ruled" data-testid="corners-against">
            <caption class="sr-only"
              >Every corner as it was driven beside how it was predicted</caption
            >
            <thead>
              <tr>
                <th scope="col">Corner</th>
                <th scope="col" class="number">Lost s</th>
                <th scope="col">Braking point, {units.lengthUnit} before it</th>
                <th scope="col">Gear</th>
                <th scope="col">Minimum {units.speedUnit}</th>
                <th scope="col">Exit {units.speedUnit}</th>
                <th scope="col">What was otherwise</th>
              </tr>
            </thead>
            <tbody>
              {#each lap.corners as corner, number (number)}
                <tr class:now={view.corner === number}>
                  <th scope="row"
                    ><button onclick={() => view.select(result, number)}
                      ><span class="figure">{number + 1}</span>
                      <span class="place">{corner.name}</span></button
                    ></th
                  >
                  <td class="number figure">{timeDifference(corner.loss.all_s, 2)}</td>
                  <td
                    ><span class="figure"
                      >{metres(corner.brake_start_to_corner_m) || corner.action}</span
                    >
                    <span class="unit"
                      >for {metres(corner.plan_brake_start_to_corner_m) || corner.plan_action}</span
                    ></td
                  >
                  <td
                    ><span class="figure">{corner.gear ?? ''}</span>
                    <span class="unit">for {corner.plan_gear}</span></td
                  >
                  <td
                    ><span class="figure">{speed(corner.min_speed_ms)}</span>
                    <span class="unit">for {speed(corner.plan_min_speed_ms)}</span></td
                  >
                  <td
                    ><span class="figure">{speed(corner.exit_speed_ms)}</span>
                    <span class="unit">for {speed(corner.plan_exit_speed_ms)}</span></td
                  >
                  <td>{corner.said}</td>
                </tr>
              {/each}
            </tbody>
          </table>
        </div>
        <p class="unit">
          From the log: {Object.entries(lap.channels)
            .map(([what, channel]) => `${what} from ${channel}`)
            .join(', ')}. What was not logged is left out.
        </p>
      {/if}
      <label class="remarks"
        ><span class="unit">Remarks</span>
        <textarea
          rows="2"
          aria-label="Remarks on the run"
          value={run.remarks}
          onchange={(event) => void book.say({ remarks: event.currentTarget.value })}
        ></textarea></label
      >
    {:else if book.runs}
      <p class="empty">
        Read a logger’s file: its laps are found on this circuit and held against the plan, corner
        by corner. Time, speed, and positions or an acceleration across are needed; pedals and gears
        are welcome.
      </p>
    {/if}
  </div>
</div>

<style>
  .page {
    display: flex;
    gap: 30px;
    padding-top: 8px;
  }
  .left {
    width: 270px;
    flex: none;
  }
  .right {
    flex: 1;
    min-width: 0;
  }
  h2 {
    font-family: var(--figures);
    font-size: 17px;
    font-weight: 600;
  }
  li button {
    text-align: left;
    cursor: pointer;
    width: 100%;
    padding: 3px 0;
    border-top: 1px solid var(--hair);
  }
  li.now {
    box-shadow: inset 3px 0 0 var(--ink);
    padding-left: 8px;
    background: var(--wash);
  }
  li .unit {
    display: block;
  }
  li .figure {
    font-size: 17px;
    padding-right: 6px;
  }
  fieldset {
    padding-top: 10px;
  }
  legend {
    font-weight: 600;
  }
  fieldset label {
    padding-right: 12px;
  }
  fieldset input:not([type='checkbox']) {
    width: 44px;
    font-family: var(--figures);
    font-weight: 600;
    background: transparent;
    border-bottom: 1px dotted var(--ink-2);
  }
  .head {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    gap: 14px;
  }
  .name {
    font-family: var(--figures);
    font-size: 22px;
    font-weight: 600;
    background: transparent;
    border-bottom: 1px dotted var(--ink-2);
    flex: 1;
    min-width: 0;
  }
  .links {
    display: flex;
    gap: 14px;
    white-space: nowrap;
  }
  .answer,
  .said {
    font-family: var(--figures);
    font-size: 16px;
    line-height: 1.3;
  }
  .said {
    padding: 4px 0;
  }
  .laps {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 16px;
    padding: 4px 0;
  }
  .laps button {
    cursor: pointer;
    border-bottom: 2px solid transparent;
  }
  .laps button:disabled {
    cursor: default;
  }
  .laps [aria-pressed='true'] {
    border-bottom-color: var(--ink);
  }
  .laps .figure {
    font-size: 16px;
  }
  .scroll {
    overflow-x: auto;
  }
  td,
  th {
    white-space: nowrap;
  }
  td:last-child {
    white-space: normal;
    min-width: 240px;
  }
  th button {
    cursor: pointer;
  }
  .number {
    text-align: right;
  }
  .remarks {
    display: block;
    padding-top: 8px;
  }
  textarea {
    width: 100%;
    font-family: var(--figures);
    font-size: 15px;
    background: var(--leaf);
    border: 1px solid var(--rule);
    padding: 4px 6px;
  }
  .empty {
    padding: 40px 0;
    max-width: 560px;
    font-size: 15px;
  }
  @media (max-width: 900px) {
    .page {
      flex-direction: column;
    }
    .left {
      width: 100%;
    }
  }
</style>
