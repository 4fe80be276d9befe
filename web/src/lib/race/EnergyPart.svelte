<script lang="ts">
  import { untrack } from 'svelte'
  import type { EnergyStore, EnergyZone, Result } from '../api/client'
  import CarFigure from '../car/CarFigure.svelte'
  import OptionalFigure from '../car/OptionalFigure.svelte'
  import { lapTime, plain, timeDifference, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import StudyHead from '../trade/StudyHead.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import EnergyCurve from './EnergyCurve.svelte'
  import FlapPart from './FlapPart.svelte'
  import { zonesIn } from './zones'

  /** Where a store's energy is spent, what it is worth along the lap, and the ways by feel beside it. */
  let {
    bench,
    view,
    studies,
    result,
    width,
  }: { bench: Workbench; view: View; studies: Studies; result: Result; width: number } = $props()

  let emptier = $state(0)
  let zones = $state.raw<EnergyZone[]>([])
  /** Straights at most; null on any. */
  let uses = $state<number | null>(null)
  const store = $derived(bench.open?.plan.car.energy ?? null)
  const energy = $derived(studies.jobs.energy?.energy ?? null)
  const units = $derived(view.units)
  const plot = $derived(Math.max(width, 320))

  $effect(() => {
    const mark = `${studies.raceMark}|${view.system}|${emptier}|${JSON.stringify(zones)}|${uses}`
    const there = store !== null
    untrack(() => {
      if (!there || studies.along.energy === mark) return
      studies.along.energy = mark
      void studies.energy(emptier, zones, uses)
    })
  })
  function asked(field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    if (value === null) field.value = plain(emptier, 2)
    else emptier = value
  }
  const write = (change: Partial<EnergyStore>): Promise<string | null> =>
    store ? bench.editCar({ op: 'energy', energy: { ...store, ...change } }) : Promise.resolve(null)
  const rows = $derived(bench.figures.of('energy'))
  function paint(field: HTMLInputElement): void {
    zones = zonesIn(field.value, units)
  }
  function bound(field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    uses = value === null || value < 1 ? null : Math.round(value)
    field.value = uses === null ? '' : String(uses)
  }
</script>

{#if store === null}
  <div class="px-0 py-6 text-[15px]">
    <p>This car has no energy store.</p>
    <button class="link" onclick={() => void bench.editCar({ op: 'add_part', part: 'energy' })}
      >Add a small motor and store</button
    >
  </div>
{:else}
  <StudyHead
    {studies}
    kind="energy"
    again={() => void studies.energy(emptier, zones, uses)}
    said={energy?.said}
    testid="energy-said"
    files={[]}
  >
    <label
      >Store used over the lap <input
        class="dotted-below w-13 font-figures text-[15px] font-semibold bg-transparent text-right"
        inputmode="decimal"
        aria-label="Store used over the lap (MJ)"
        value={plain(emptier, 2)}
        onchange={(event) => asked(event.currentTarget)}
      /> <span class="unit">MJ</span></label
    >
    <label
      >in <input
        class="dotted-below w-13 font-figures text-[15px] font-semibold bg-transparent text-right"
        inputmode="numeric"
        placeholder="any"
        aria-label="Straights at most"
        value={uses ?? ''}
        onchange={(event) => bound(event.currentTarget)}
      /> <span class="unit">uses top speed</span></label
    >
    <span class="pl-2 gap-2.5 inline-flex"
      >{#each [{ label: 'a race lap', value: 0 }, { label: 'empty', value: store.usable_mj }] as one (one.label)}
        <button class="link" onclick={() => (emptier = one.value)}>{one.label}</button>
      {/each}</span
    >
  </StudyHead>
  {#if energy}
    {#if !energy.fits}<p role="alert" class="trouble text-[15px]">
        This lap needs a store of {plain(energy.swing_mj, 2)} MJ; this one holds {plain(
          energy.usable_mj,
          2,
        )}.
      </p>{/if}
    <EnergyCurve {energy} {result} {view} width={plot} />
    <div
      class="columns gap-6.5 grid grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)_290px] items-start narrow:grid-cols-[minmax(0,1fr)]"
    >
      <table class="ruled" data-testid="energy-ways">
        <thead
          ><tr
            ><th scope="col">Deployment</th><th scope="col" class="number">Lap</th><th
              scope="col"
              class="number">Behind s</th
            ><th scope="col" class="number">Deployed MJ</th><th scope="col" class="number"
              >Recovered MJ</th
            ></tr
          ></thead
        >
        <tbody>
          <tr class="now"
            ><th scope="row">optimal</th><td class="figure number">{lapTime(energy.lap_s)}</td><td
              class="figure number">best</td
            ><td class="number">{plain(energy.spent_mj, 2)}</td><td class="number"
              >{plain(energy.recovered_mj + energy.from_engine_mj, 2)}</td
            ></tr
          >
          {#each energy.ways as way (way.way)}
            <tr
              ><th scope="row"
                >{way.way}{#if !way.fits}
                  <span class="ember">exceeds the store</span>{/if}</th
              ><td class="figure number">{lapTime(way.lap_s)}</td><td class="figure number"
                >{timeDifference(way.behind_s)}</td
              ><td class="number">{plain(way.spent_mj, 2)}</td><td class="number"
                >{plain(way.recovered_mj, 2)}</td
              ></tr
            >
          {/each}
          <tr
            ><th scope="row">no deployment</th><td class="figure number"
              >{lapTime(energy.without_s)}</td
            ><td class="figure number">{timeDifference(energy.gain_s)}</td><td></td><td></td></tr
          >
          <tr
            ><td colspan="5"
              ><label
                >Typed zones <input
                  class="dotted-below font-figures text-[15px] font-semibold bg-transparent w-47.5 text-left"
                  placeholder="150-420, 900-1100"
                  aria-label="Deployment zones, in {units.lengthUnit}, as 150-420, 900-1100"
                  onchange={(event) => paint(event.currentTarget)}
                /> <span class="unit">{units.lengthUnit}, from-to</span></label
              ></td
            ></tr
          >
        </tbody>
      </table>
      <table class="ruled" data-testid="energy-shares">
        <thead
          ><tr
            ><th scope="col">Store used MJ</th><th scope="col" class="number">Lap</th><th
              scope="col"
              class="number">Last kJ gains ms</th
            ></tr
          ></thead
        >
        <tbody>
          {#each energy.shares ?? [] as share, n (n)}
            <tr
              ><th scope="row" class="figure">{plain(share.emptier_mj, 2)}</th><td
                class="figure number">{lapTime(share.lap_s)}</td
              ><td class="number">{plain(share.price_ms_per_kj, 2)}</td></tr
            >
          {/each}
        </tbody>
      </table>
      <div>
        <dl class="text-[14px]" aria-label="The store">
          {#each rows as row (row.name)}
            {@const value = store[row.field as keyof EnergyStore] as number | null | undefined}
            <div
              class="border-t border-t-hair flex justify-between min-h-6.25 items-baseline"
              title={row.changes}
            >
              <dt>{row.label}</dt>
              <dd>
                <OptionalFigure
                  {row}
                  {value}
                  {units}
                  write={(next) => write({ [row.field]: next })}
                />
              </dd>
            </div>
          {/each}
          <div class="border-t border-t-hair flex justify-between min-h-6.25 items-baseline">
            <dt>Recovery axle</dt>
            <dd>
              <select
                aria-label="Recovery axle"
                value={store.recovery_axle}
                onchange={(event) =>
                  void write({ recovery_axle: event.currentTarget.value as 'front' | 'rear' })}
                ><option value="front">front</option><option value="rear">rear</option></select
              >
            </dd>
          </div>
          {#each store.power as point, n (n)}
            <div class="border-t border-t-hair flex justify-between min-h-6.25 items-baseline">
              <dt>
                Power from {plain(units.speed(point.speed_ms), 0)}
                {units.speedUnit} on
              </dt>
              <dd>
                <CarFigure
                  label="Power at {plain(
                    units.speed(point.speed_ms),
                    0,
                  )} {units.speedUnit} ({units.unitOf('power')})"
                  value={units.show(point.power_kw, 'power')}
                  decimals={0}
                  step={10}
                  fine={1}
                  width="5ch"
                  write={(next) =>
                    write({
                      power: store.power.map((other, at) =>
                        at === n ? { ...other, power_kw: units.read(next, 'power') } : other,
                      ),
                    })}
                />
                <span class="unit">{units.unitOf('power')}</span>
              </dd>
            </div>
          {/each}
        </dl>
        <button class="link" onclick={() => void bench.editCar({ op: 'energy', energy: null })}
          >Remove the store</button
        >
      </div>
    </div>
  {/if}
{/if}
<FlapPart {bench} {view} {studies} />

<style>
  .number {
    text-align: right;
    white-space: nowrap;
  }
</style>
