<script lang="ts">
  import { untrack } from 'svelte'
  import type { FlapZone } from '../api/client'
  import CarFigure from '../car/CarFigure.svelte'
  import { lapTime, plain, timeDifference } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import { zonesIn, zonesSaid } from './zones'

  /** A flap in the zones where it may be open: what all of them and each of them gain. */
  let { bench, view, studies }: { bench: Workbench; view: View; studies: Studies } = $props()

  const flap = $derived(bench.open?.plan.car.flap ?? null)
  const race = $derived(bench.open?.plan.race)
  const zones = $derived(race?.flap_zones ?? [])
  const found = $derived(studies.jobs.flap?.flap ?? null)
  const rows = $derived(bench.figures.of('flap'))
  const units = $derived(view.units)

  $effect(() => {
    const mark = `${studies.raceMark}|${view.system}`
    const there = flap !== null && zones.length > 0
    untrack(() => {
      if (!there || studies.along.flap === mark) return
      studies.along.flap = mark
      void studies.flap()
    })
  })
  async function paint(text: string): Promise<void> {
    if (!race) return
    const painted: FlapZone[] = zonesIn(text, units)
    const refused = await bench.editPlan({ race: { ...race, flap_zones: painted } })
    if (refused) bench.say(refused)
  }
</script>

<section class="pt-2.5 text-[14px]" aria-label="A flap">
  <h2 class="figure text-[17px]">Low-drag flap</h2>
  {#if flap === null}
    <button class="link" onclick={() => void bench.editCar({ op: 'add_part', part: 'flap' })}
      >Add a flap</button
    >
  {:else}
    <p class="line gap-x-4.5 gap-y-1 flex flex-wrap">
      {#each rows as row (row.name)}
        <span
          >{row.label}
          <CarFigure
            label="{row.label} ({row.unit})"
            value={flap[row.field as keyof typeof flap] ?? 0}
            {...units.fit(row)}
            width="4ch"
            write={(next) => bench.editCar({ op: 'flap', flap: { ...flap, [row.field]: next } })}
          /> <span class="unit">{row.unit}</span></span
        >
      {/each}
      <label
        >open <input
          class="dotted-below w-47.5 font-figures text-[15px] font-semibold bg-transparent"
          placeholder="150-420, 900-1100"
          aria-label="Zones of the flap, in {units.lengthUnit}, as 150-420, 900-1100"
          value={zonesSaid(zones, units)}
          onchange={(event) => void paint(event.currentTarget.value)}
        /> <span class="unit">{units.lengthUnit}, from-to</span></label
      >
      <button class="link" onclick={() => void bench.editCar({ op: 'flap', flap: null })}
        >Remove the flap</button
      >
    </p>
    {#if zones.length === 0}<p class="unit">Type where it may be open.</p>{/if}
    {#if found && zones.length > 0}
      <p class="font-figures text-[16px]" data-testid="flap-said">{found.said.join(' ')}</p>
      <table class="ruled max-w-130" data-testid="flap-zones">
        <tbody>
          {#each found.zones as zone, n (n)}
            <tr
              ><th scope="row"
                >{plain(units.length(zone.from_m), 0)} to {plain(units.length(zone.to_m), 0)}
                {units.lengthUnit} alone</th
              ><td class="figure number text-right"
                >{zone.gain_s === null ? 'no lap' : timeDifference(-zone.gain_s)}</td
              ></tr
            >
          {/each}
          <tr class="now"
            ><th scope="row"
              >all of them, {plain(units.speed(found.top_speed_ms), 1)}
              {units.speedUnit} top speed</th
            ><td class="figure number text-right"
              >{found.open_s === null ? 'no lap' : lapTime(found.open_s)}</td
            ></tr
          >
        </tbody>
      </table>
    {/if}
  {/if}
</section>
