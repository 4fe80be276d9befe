<script lang="ts">
  import { untrack } from 'svelte'
  import { lapTime, timeDifference } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import StudyHead from './StudyHead.svelte'
  import type { Weather } from '../conditions/weather.svelte'
  import type { Studies } from './studies.svelte'

  /** Every combination of what the car has, ranked; what is even with the best is said so. */
  let { view, studies, weather }: { view: View; studies: Studies; weather: Weather } = $props()

  const SEARCHED = ['wing', 'gear_set', 'compound', 'brake_front_fraction']
  const SHOWN_AT_FIRST = 24
  let left = $state.raw<string[]>([])
  let all = $state(false)
  let overSession = $state(false)

  const offered = $derived(studies.axes.filter((axis) => SEARCHED.includes(axis.name)))
  const job = $derived(studies.jobs.has)
  const search = $derived(job?.search ?? null)
  const rows = $derived(
    all ? (search?.found ?? []) : (search?.found.slice(0, SHOWN_AT_FIRST) ?? []),
  )
  const most = $derived(Math.max(0.01, ...rows.map((one) => Math.abs(one.change_s))))

  $effect(() => {
    const known = offered.length
    untrack(() => {
      if (!job && known > 0) drive()
    })
  })
  function drive(): void {
    const axes = offered.map((axis) => axis.name).filter((name) => !left.includes(name))
    void studies.search(axes, overSession)
  }
  function turn(name: string, wanted: boolean): void {
    left = wanted ? left.filter((one) => one !== name) : [...left, name]
    if (left.length < offered.length) drive()
  }
</script>

{#if offered.length === 0}
  <p class="px-0 py-7.5 text-[15px] max-w-140">
    This car has fewer than two wing steps, gear sets and compounds, and no brake bias to set. Add
    options under Car, Setups.
  </p>
{:else}
  <StudyHead {studies} kind="has" again={drive} said={search?.said} testid="search-said">
    <fieldset class="gap-x-4.5 gap-y-0.5 flex flex-wrap">
      <legend class="sr-only">Options to search</legend>
      {#each offered as axis (axis.name)}
        <label
          ><input
            class="[accent-color:var(--ink)]"
            type="checkbox"
            checked={!left.includes(axis.name)}
            onchange={(event) => turn(axis.name, event.currentTarget.checked)}
          />
          {axis.label}
          <span class="unit">{axis.choices.length > 0 ? axis.choices.length : 'a few steps'}</span
          ></label
        >
      {/each}
      {#if weather.record}<label
          ><input
            class="[accent-color:var(--ink)]"
            type="checkbox"
            checked={overSession}
            onchange={(event) => {
              overSession = event.currentTarget.checked
              drive()
            }}
          />
          over all forecasts of
          <span class="place">{weather.record.name}</span></label
        >{/if}
    </fieldset>
  </StudyHead>
  {#if search}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Combinations">
      <table class="ruled" data-testid="search">
        <caption class="sr-only">Combinations of available parts, quickest first</caption>
        <thead>
          <tr>
            {#each search.axes as axis (axis.name)}<th scope="col">{axis.label}</th>{/each}
            {#if search.moments > 0}<th scope="col" class="number">Session mean</th><th
                scope="col"
                class="number">Worst of it</th
              >{/if}
            <th scope="col" class="number">Lap</th>
            <th scope="col" class="number">Against the plan s</th>
            {#if search.moments === 0}
              <th scope="col"><span class="sr-only">as a bar</span></th>
              <th scope="col" class="number">80 % band</th>
              <th scope="col" class="number">Slowest tenth from</th>
            {/if}
            <th scope="col">Against the best</th>
            <th scope="col" class="number">Top {view.units.speedUnit}</th>
            <td></td>
          </tr>
        </thead>
        <tbody>
          {#each rows as one, index (one.said.join('/'))}
            <tr>
              {#each search.axes as axis, column (axis.name)}
                <td class="figure text-[15px]">{one.said[column] ?? 'as the plan'}</td>
              {/each}
              {#if search.moments > 0}<td class="number figure text-[15px]"
                  >{typeof one.session_s === 'number' ? lapTime(one.session_s) : 'no lap'}</td
                ><td class="number"
                  >{typeof one.worst_s === 'number' ? lapTime(one.worst_s) : ''}</td
                >{/if}
              <td class="number figure text-[15px]">{lapTime(one.lap_time_s)}</td>
              <td class="number figure text-[15px]">{timeDifference(one.change_s)}</td>
              {#if search.moments === 0}
                <td
                  ><svg class="inline-block" width="110" height="12" aria-hidden="true"
                    ><path d="M55 0V12" stroke="var(--rule)" /><path
                      d="M55 6h{(54 * one.change_s) / most}"
                      stroke="var(--ink)"
                      stroke-width="6"
                    /></svg
                  ></td
                >
                <td class="number unit"
                  >{one.change_band
                    ? `${timeDifference(one.change_band.low)} to ${timeDifference(one.change_band.high)}`
                    : ''}</td
                >
                <td class="number">{typeof one.bad_s === 'number' ? lapTime(one.bad_s) : ''}</td>
              {/if}
              <td>{index === 0 ? 'best' : one.even && search.moments === 0 ? 'equal' : ''}</td>
              <td class="number">{view.units.speed(one.top_speed_ms).toFixed(1)}</td>
              <td
                ><button
                  class="link"
                  disabled={studies.stale('has') || job?.state === 'running'}
                  onclick={() => void studies.take(one.settings)}>Apply</button
                ></td
              >
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
    {#if search.found.length > SHOWN_AT_FIRST}
      <button class="link" onclick={() => (all = !all)}
        >{all ? 'Show the best only' : `Show all ${search.found.length}`}</button
      >
    {/if}
    <p class="unit">
      {search.tried} of {search.possible} combinations calculated, the best twelve also with their uncertainty;
      “equal” means not clearly slower than the best.
    </p>
  {/if}
{/if}

<style>
  th,
  td {
    white-space: nowrap;
    padding: 0 12px 0 0;
    line-height: 1.25;
  }
</style>
