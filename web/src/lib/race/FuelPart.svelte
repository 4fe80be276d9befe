<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import { untrack } from 'svelte'
  import type { Race } from '../api/client'
  import { plain, timeDifference, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import StudyHead from '../trade/StudyHead.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import RaceFigures from './RaceFigures.svelte'

  /** Fuel for the distance, with and without a margin; and what saving some of it costs, and where. */
  let {
    bench,
    view,
    studies,
    race,
    width,
  }: { bench: Workbench; view: View; studies: Studies; race: Race | null; width: number } = $props()

  const HEIGHT = 210
  const LEFT = 52
  const perLitre = $derived(view.units.show(1, 'volume'))
  const litres = (value: number, decimals: number): string =>
    plain(view.units.show(value, 'volume'), decimals)
  const mass = (kg: number, decimals: number): string =>
    plain(view.units.show(kg, 'mass'), decimals)
  const RULE_LINES = ['Dashed', 'Dotted', 'Dash and dot']
  let wanted = $state(5)
  const fuel = $derived(race?.fuel ?? null)
  const saving = $derived(studies.jobs.saving?.saving ?? null)
  const plot = $derived(Math.max(Math.min(width - 330, 620), 300))
  const points = $derived((saving?.curve ?? []).filter((one) => one.cost_s !== null))
  const curves = $derived([
    { name: 'the cheapest', costs: points.map((one) => one.cost_s), dash: 'none', heavy: 2.6 },
    ...(saving?.rules ?? []).map((name, n) => ({
      name,
      costs: points.map((one) => one.rules_s[n] ?? null),
      dash: ['7 4', '2 3', '9 3 2 3'][n] ?? '1 2',
      heavy: 1.6,
    })),
  ])
  const x = $derived(scaleLinear([0, points.at(-1)?.saved_pct ?? 1], [LEFT, plot - 16]))
  const most = $derived(Math.max(0.05, ...points.map((one) => one.cost_s ?? 0)) * 1.6)
  const y = $derived(scaleLinear([0, most], [HEIGHT - 28, 20]))
  const path = (costs: (number | null)[]): string => {
    const known = costs.flatMap((cost, n) =>
      cost === null || cost > most ? [] : [`${x(points[n]?.saved_pct ?? 0)} ${y(cost)}`],
    )
    return known.length > 0 ? `M${x(0)} ${y(0)}L${known.join('L')}` : ''
  }

  $effect(() => {
    const mark = `${studies.raceMark}|${view.system}|${wanted}`
    untrack(() => {
      if (studies.along.saving === mark) return
      studies.along.saving = mark
      void studies.saving(wanted)
    })
  })
  function asked(field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    if (value === null || value <= 0 || value > 60) field.value = plain(wanted, 1)
    else wanted = value
  }
</script>

{#if fuel}
  <div class="columns gap-6.5 flex narrow:flex-col">
    <div class="flex-1 min-w-0">
      <table class="ruled" data-testid="fuel-table">
        <thead>
          <tr>
            <th scope="col">Fuel</th><th scope="col" class="number"
              >{view.units.unitOf('volume')}</th
            >
            <th scope="col" class="number">{view.units.unitOf('mass')}</th><th scope="col"
              >Source</th
            >
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">Per lap</th>
            <td class="figure number">{litres(fuel.lap_litres, 3)}</td>
            <td class="figure number">{mass(fuel.lap_kg, 3)}</td>
            <td class="unit"
              >{fuel.measured ? 'as measured' : 'the engine’s work'}{fuel.lap_band
                ? `; ${litres(fuel.lap_band.low / fuel.kg_per_litre, 3)} to ${litres(fuel.lap_band.high / fuel.kg_per_litre, 3)} ${view.units.unitOf('volume')} (80 % band)`
                : ''}</td
            >
          </tr>
          <tr>
            <th scope="row">{race?.laps} laps</th>
            <td class="figure number">{litres(fuel.racing_kg / fuel.kg_per_litre, 1)}</td>
            <td class="figure number">{mass(fuel.racing_kg, 2)}</td>
            <td class="unit">lap by lap, at the fuel load of each lap</td>
          </tr>
          <tr>
            <th scope="row">Before the start</th>
            <td class="figure number">{litres(fuel.before_start_kg / fuel.kg_per_litre, 1)}</td>
            <td class="figure number">{mass(fuel.before_start_kg, 2)}</td>
            <td></td>
          </tr>
          <tr>
            <th scope="row">Race distance exactly</th>
            <td class="figure number">{litres(fuel.exact_litres, 1)}</td>
            <td class="figure number">{mass(fuel.exact_kg, 2)}</td>
            <td class="unit">empty at the line</td>
          </tr>
          <tr class="now">
            <th scope="row">With reserve laps</th>
            <td class="figure number">{litres(fuel.start_litres, 1)}</td>
            <td class="figure number">{mass(fuel.start_kg, 2)}</td>
            <td class="unit"
              >the margin costs {plain(fuel.margin_s, 2)} s over the race{fuel.start_band
                ? `; ${litres(fuel.start_band.low / fuel.kg_per_litre, 1)} to ${litres(fuel.start_band.high / fuel.kg_per_litre, 1)} ${view.units.unitOf('volume')} (80 % band)`
                : ''}</td
            >
          </tr>
          {#if fuel.tank_kg !== null}
            <tr>
              <th scope="row">The tank</th>
              <td class="figure number">{litres(fuel.tank_kg / fuel.kg_per_litre, 1)}</td>
              <td class="figure number">{mass(fuel.tank_kg, 2)}</td>
              <td class="unit"
                >lasts {plain(fuel.tank_laps ?? 0, 1)} laps{fuel.fits
                  ? ''
                  : ': not enough for the race'}</td
              >
            </tr>
          {/if}
          <tr>
            <th scope="row">One {view.units.unitOf('volume')} more</th>
            <td class="figure number">1</td>
            <td class="figure number"
              >{plain(view.units.show(fuel.kg_per_litre, 'mass') / perLitre, 3)}</td
            >
            <td class="unit"
              >costs {plain((1000 * fuel.litre_s) / perLitre, 1)} ms a lap, {plain(
                fuel.litre_race_s / perLitre,
                2,
              )} s over the whole race</td
            >
          </tr>
        </tbody>
      </table>
      <StudyHead
        {studies}
        kind="saving"
        again={() => void studies.saving(wanted)}
        said={saving?.said}
        testid="saving-said"
        files={[]}
      >
        <label
          >Save <input
            class="dotted-below w-11.5 font-figures text-[15px] font-semibold bg-transparent text-right"
            inputmode="decimal"
            aria-label="Share of a lap’s fuel to save, in percent"
            value={plain(wanted, 1)}
            onchange={(event) => asked(event.currentTarget)}
          /> <span class="unit">% of a lap’s fuel</span></label
        >
      </StudyHead>
      {#if saving}
        <div class="gap-5 flex flex-wrap">
          <ul class="min-w-57.5 text-[15px]" data-testid="saving-corners">
            {#each saving.corners as one (one.corner)}
              <li class="border-t border-t-hair">
                <button
                  class="cursor-pointer"
                  onclick={() => bench.result && view.select(bench.result, one.corner)}
                  ><span class="figure">{one.corner + 1}</span>
                  <span class="place">{one.name}</span></button
                >
                lift <b class="figure">{plain(view.units.length(one.lift_earlier_m), 0)}</b>
                {view.units.lengthUnit} earlier
              </li>
            {/each}
            {#if saving.revs_pct && saving.revs_pct < 99.5}<li class="border-t border-t-hair">
                change up at {plain(saving.revs_pct, 0)} % of the rev limit
              </li>{/if}
            {#if saving.power_pct && saving.power_pct < 99.5}<li class="border-t border-t-hair">
                {plain(saving.power_pct, 0)} % of the power
              </li>{/if}
          </ul>
          {#if points.length > 1}
            <svg
              class="max-w-full h-auto"
              width={Math.min(plot, 520)}
              height={HEIGHT}
              viewBox="0 0 {plot} {HEIGHT}"
              role="img"
              aria-label="Cost per lap against fuel saved: optimal and rules of thumb"
              data-testid="saving-plot"
            >
              {#each y.ticks(4) as tick (tick)}
                <path d="M{LEFT} {y(tick)}H{plot - 16}" stroke="var(--hair)" />
                <text x={LEFT - 6} y={y(tick) + 4} text-anchor="end" class="tick"
                  >{plain(tick, 2)}</text
                >
              {/each}
              <text x={LEFT + 4} y="13" class="tick">s a lap</text>
              {#each x.ticks(6) as tick (tick)}
                <text x={x(tick)} y={HEIGHT - 8} text-anchor="middle" class="tick"
                  >{tick === 0 ? 'saved %' : tick}</text
                >
              {/each}
              {#each curves as curve (curve.name)}
                <path
                  d={path(curve.costs)}
                  fill="none"
                  stroke="var(--ink)"
                  stroke-width={curve.heavy}
                  stroke-dasharray={curve.dash}
                />
              {/each}
              {#if saving.found?.cost_s}
                <circle
                  cx={x(saving.found.saved_pct)}
                  cy={y(saving.found.cost_s)}
                  r="4.5"
                  fill="var(--ink)"
                />
              {/if}
            </svg>
          {/if}
        </div>
        <p class="unit">
          Solid: the cheapest combination, calculated as a whole lap.
          {#each saving.rules as rule, n (n)}
            <span class="pr-1.5"
              >{RULE_LINES[n]}: {rule}, {saving.found?.rules_s[n]
                ? `${timeDifference(saving.found.rules_s[n] ?? 0)} s`
                : 'cannot save this much'}.</span
            >
          {/each}
        </p>
      {/if}
    </div>
    <aside class="flex-none w-75 narrow:w-full" aria-label="The race’s figures">
      <RaceFigures {bench} {view} groups={['Distance', 'Fuel']} />
    </aside>
  </div>
{:else}<p class="unit px-0 py-7.5">Calculating the race…</p>{/if}

<style>
  .number {
    text-align: right;
    white-space: nowrap;
  }
</style>
