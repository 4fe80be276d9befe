<script lang="ts">
  import { untrack } from 'svelte'
  import { lapTime, plain, timeDifference, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import StudyHead from './StudyHead.svelte'
  import type { GearsWanted, Studies } from './studies.svelte'

  /** Gears for this circuit: the sets there are, a series proposed, and each gear half a step off. */
  let { view, studies }: { view: View; studies: Studies } = $props()

  let wanted = $state.raw<GearsWanted>({
    first_low: null,
    first_high: null,
    top_low: null,
    top_high: null,
    tow_pct: 0,
  })
  const job = $derived(studies.jobs.gears)
  const study = $derived(job?.gears ?? null)
  const gears = $derived(
    Array.from(
      { length: Math.max(0, ...(study?.choices ?? []).map((one) => one.ratios.length)) },
      (_, n) => n,
    ),
  )

  $effect(() => {
    void studies.axes
    untrack(() => {
      if (!job && studies.axes.length > 0) drive()
    })
  })
  function drive(): void {
    void studies.gears(wanted)
  }
  const FIELDS = [
    { name: 'first_low' as const, label: 'First gear from' },
    { name: 'first_high' as const, label: 'to' },
    { name: 'top_low' as const, label: 'Top gear from' },
    { name: 'top_high' as const, label: 'to' },
  ]
  function bounded(name: 'first_low' | 'first_high' | 'top_low' | 'top_high', text: string): void {
    wanted = { ...wanted, [name]: typedNumber(text) }
    drive()
  }
  function towed(field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    if (value === null || value < 0 || value > 60) {
      field.value = String(wanted.tow_pct)
      return
    }
    wanted = { ...wanted, tow_pct: value }
    drive()
  }
</script>

<StudyHead {studies} kind="gears" again={drive} said={study?.said} testid="gears-said">
  <fieldset class="gap-x-3 gap-y-0.5 flex flex-wrap">
    <legend class="sr-only">Limits for proposals</legend>
    {#each FIELDS as field, n (field.name)}
      <label
        >{field.label}
        <input
          class="dotted-below w-13 font-figures text-[16px] font-semibold bg-transparent text-right"
          inputmode="decimal"
          placeholder="free"
          aria-label={n % 2 === 0 ? field.label : `${FIELDS[n - 1]?.label.replace('from', 'to')}`}
          value={wanted[field.name] ?? ''}
          onchange={(event) => bounded(field.name, event.currentTarget.value)}
        /></label
      >
    {/each}
    <label
      >Tow reduces drag by <input
        class="dotted-below w-13 font-figures text-[16px] font-semibold bg-transparent text-right"
        inputmode="decimal"
        aria-label="Drag that a tow takes away, in percent"
        value={wanted.tow_pct}
        onchange={(event) => towed(event.currentTarget)}
      /> <span class="unit">% of the drag</span></label
    >
  </fieldset>
</StudyHead>
{#if study}
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Gear sets">
    <table class="ruled" data-testid="gears">
      <caption class="sr-only">Gear sets, quickest first</caption>
      <thead>
        <tr>
          <th scope="col">Gears</th>
          <th scope="col" class="number">Lap</th>
          <th scope="col" class="number">Against the plan s</th>
          <th scope="col" class="number">Top {view.units.speedUnit}</th>
          <th scope="col" class="number">Revs at top speed %</th>
          {#if study.tow_pct > 0}<th scope="col" class="number">in a tow</th>{/if}
          <th scope="col" class="number">Final drive</th>
          {#each gears as n (n)}<th scope="col" class="number">{n + 1}</th>{/each}
          <th scope="col">Shifts in corners</th>
          <td></td>
        </tr>
      </thead>
      <tbody>
        {#each study.choices as one (one.name)}
          <tr class:now={one.settings.length === 0}>
            <th scope="row" class="figure">{one.name}</th>
            <td class="number figure text-[15px]">{lapTime(one.lap_time_s)}</td>
            <td class="number figure text-[15px]">{timeDifference(one.change_s)}</td>
            <td class="number">{view.units.speed(one.top_speed_ms).toFixed(1)}</td>
            <td class="number">{one.top_rpm_pct.toFixed(1)}</td>
            {#if study.tow_pct > 0}<td class="number"
                >{one.tow_rpm_pct === null ? 'no lap' : plain(one.tow_rpm_pct ?? 0, 1)}</td
              >{/if}
            <td class="number">{one.final_drive.toFixed(3)}</td>
            {#each gears as n (n)}
              <td class="number" class:idle={one.idle.includes(n + 1)}
                >{one.ratios[n] === undefined
                  ? ''
                  : (one.ratios[n] ?? 0).toFixed(3)}{#if one.idle.includes(n + 1)}<span class="unit"
                    >&nbsp;unused</span
                  >{/if}</td
              >
            {/each}
            <td class="wrap">{one.shifts_in_corners.join(', ') || 'none'}</td>
            <td
              >{#if one.settings.length > 0}<button
                  class="link"
                  disabled={studies.stale('gears') || job?.state === 'running'}
                  onclick={() => void studies.take(one.settings)}>Apply</button
                >{/if}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  {#if study.half_steps.length > 0}
    <h2 class="figure pt-3 text-[18px]">Each gear half a step longer and shorter</h2>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Gears one by one">
      <table class="ruled w-auto" data-testid="half-steps">
        <thead>
          <tr>
            <th scope="col">Gear</th>
            <th scope="col" class="number">Ratio</th>
            <th scope="col" class="number">Longer</th>
            <th scope="col" class="number">lap s</th>
            <th scope="col" class="number">Shorter</th>
            <th scope="col" class="number">lap s</th>
            <th scope="col">Use</th>
          </tr>
        </thead>
        <tbody>
          {#each study.half_steps as one (one.gear)}
            <tr>
              <th scope="row" class="figure">{one.gear}</th>
              <td class="number">{one.ratio.toFixed(3)}</td>
              <td class="number">{one.longer.toFixed(3)}</td>
              <td class="number figure text-[15px]"
                >{one.longer_s === null ? 'no lap' : timeDifference(one.longer_s)}</td
              >
              <td class="number">{one.shorter.toFixed(3)}</td>
              <td class="number figure text-[15px]"
                >{one.shorter_s === null ? 'no lap' : timeDifference(one.shorter_s)}</td
              >
              <td class="wrap">{one.said}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  {/if}
  <p class="unit">
    A proposal is a progressive series set by first gear, top gear and step progression; the final
    drive stays. Use the nearest available ratios.
  </p>
{/if}

<style>
  th,
  td {
    padding: 0 12px 0 0;
    white-space: nowrap;
    line-height: 1.3;
  }
  .wrap {
    white-space: normal;
    min-width: 150px;
  }
  .idle {
    color: var(--coast);
  }
</style>
