<script lang="ts">
  import { untrack } from 'svelte'
  import type { Race } from '../api/client'
  import { lapTime, plain } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import StudyHead from '../trade/StudyHead.svelte'
  import TyreFour from './TyreFour.svelte'
  import type { Studies } from '../trade/studies.svelte'

  /** What slides into each tyre and where, what easing a corner saves; and how the compounds last. */
  let {
    bench,
    view,
    studies,
    race,
  }: { bench: Workbench; view: View; studies: Studies; race: Race | null } = $props()

  const work = $derived(studies.jobs.work?.work ?? null)
  const most = $derived(Math.max(1, ...(work?.corners ?? []).flatMap((corner) => corner.each_kj)))

  $effect(() => {
    const mark = `${studies.raceMark}|${view.system}`
    untrack(() => {
      if (studies.along.work === mark) return
      studies.along.work = mark
      void studies.work()
    })
  })
</script>

<StudyHead
  {studies}
  kind="work"
  again={() => void studies.work()}
  said={work?.said}
  testid="work-said"
  files={[]}
  note={work && !work.sides
    ? 'No track width entered: left and right share their axle equally'
    : undefined}
>
  <span>Sliding energy into the tyres per lap</span>
</StudyHead>
<div class="columns gap-6.5 flex flex-wrap">
  {#if work}
    <TyreFour tyres={work.tyres} each={work.each_kj} hardest={work.hardest} />
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Tyre work by corner">
      <table class="ruled" data-testid="work-table">
        <thead>
          <tr>
            <th scope="col">Corner</th>
            {#each work.tyres as tyre, n (tyre)}
              <th scope="col" class:hardest={n === work.hardest}
                >{tyre}, kJ{n === work.hardest ? ', hardest' : ''}</th
              >
            {/each}
            <th scope="col" class="number">1 {view.units.speedUnit} less costs s</th>
            <th scope="col" class="number">saves that tyre kJ</th>
          </tr>
        </thead>
        <tbody>
          <tr class="now">
            <th scope="row">The lap</th>
            {#each work.each_kj as value, n (n)}<td class="figure">{plain(value, 0)}</td>{/each}
            <td></td><td></td>
          </tr>
          {#each work.corners as corner (corner.corner)}
            <tr>
              <th scope="row"
                ><button
                  class="cursor-pointer text-left"
                  onclick={() => bench.result && view.select(bench.result, corner.corner)}
                  ><span class="figure">{corner.corner + 1}</span>
                  <span class="place">{corner.name}</span></button
                ></th
              >
              {#each corner.each_kj as value, n (n)}
                <td class="whitespace-nowrap"
                  ><svg class="inline-block" width="64" height="9" aria-hidden="true"
                    ><path
                      d="M0 5H{(62 * value) / most}"
                      stroke={n === work.hardest ? 'var(--ink)' : 'var(--coast)'}
                      stroke-width="6"
                    /></svg
                  >
                  <span class="figure">{plain(value, 0)}</span></td
                >
              {/each}
              <td class="figure number"
                >{corner.eased_s === null ? '–' : plain(corner.eased_s, 3)}</td
              >
              <td class="figure number"
                >{corner.eased_kj === null ? '–' : plain(corner.eased_kj, 1)}</td
              >
            </tr>
          {/each}
        </tbody>
      </table>
      <p class="unit">
        Force times slip, with {plain(work.slip_at_limit_pct, 1)} % slip at the limit (an assumption,
        on the car’s full sheet). Stretches between corners count to the nearest corner.
      </p>
    </div>
  {/if}
  {#if work?.warm_up}
    <div>
      <h2 class="figure text-[17px]">From cold to warm</h2>
      <p class="text-[15px] max-w-115" data-testid="warm-said">{work.warm_up.said}</p>
      <table class="ruled" data-testid="warm-table">
        <thead
          ><tr
            ><th scope="col">Lap of the set</th><th scope="col" class="number">Grip %</th><th
              scope="col"
              class="number">Lap</th
            ><th scope="col" class="number">Slower s</th><th scope="col" class="number"
              >Energy so far MJ</th
            ></tr
          ></thead
        >
        <tbody>
          {#each work.warm_up.laps as lap (lap.age)}
            <tr
              ><th scope="row">{lap.age === 0 ? 'out lap' : lap.age}</th><td class="figure number"
                >{plain(lap.grip_pct, 1)}</td
              ><td class="figure number">{lapTime(lap.lap_s)}</td><td class="figure number"
                >{plain(lap.slower_s, 2)}</td
              ><td class="number">{plain(lap.total_mj, 1)}</td></tr
            >
          {/each}
        </tbody>
      </table>
    </div>
  {/if}
  {#if race}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div role="region" tabindex="0" aria-label="Compounds in this race">
      <h2 class="figure text-[17px]">Compounds in this race</h2>
      <table class="ruled" data-testid="race-tyres">
        <thead
          ><tr
            ><th scope="col">Compound</th><th scope="col" class="number">Out lap</th><th
              scope="col"
              class="number">Warm</th
            ><th scope="col" class="number">Last lap</th><th scope="col" class="number"
              >Degradation % a lap</th
            ><th scope="col" class="number">Lasts laps</th></tr
          ></thead
        >
        <tbody>
          {#each race.tyres as tyre (tyre.name)}
            <tr
              ><th scope="row" class="place">{tyre.name}</th><td class="figure number"
                >{lapTime(tyre.out_lap_s)}</td
              ><td class="figure number">{lapTime(tyre.new_s)}</td><td class="figure number"
                >{lapTime(tyre.old_s)}</td
              ><td class="number">{plain(tyre.fade_pct, 2)}</td><td class="number"
                >{tyre.life_laps}{tyre.life_stated ? '' : ' (degradation)'}</td
              ></tr
            >
          {/each}
        </tbody>
      </table>
    </div>
  {/if}
</div>

<style>
  .columns > :first-child {
    flex: 2;
    min-width: 300px;
  }
  .columns > :last-child {
    flex: 1;
    min-width: min(460px, 100%);
    overflow-x: auto;
  }
  .hardest {
    font-weight: 700;
    color: var(--ink);
  }
  .number {
    text-align: right;
    white-space: nowrap;
  }
</style>
