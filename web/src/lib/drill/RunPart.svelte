<script lang="ts">
  import { onDestroy, untrack } from 'svelte'
  import type { DrillDeed } from '../api/client'
  import { lapTime, whole } from '../parts/format'
  import { standing } from '../state/bands.svelte'
  import { recallText, remember } from '../state/memory'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Drill } from './drill.svelte'
  import RhythmTable from './RhythmTable.svelte'
  import RoadAhead from './RoadAhead.svelte'
  import { RATES, Run } from './run.svelte'
  import RunCurve from './RunCurve.svelte'
  import RunMap from './RunMap.svelte'
  import { CallVoice } from './voice.svelte'

  /** The lap in true time along curve, map and road, with its calls; and its rhythm, pressed. */
  let { bench, view, drill }: { bench: Workbench; view: View; drill: Drill } = $props()

  // svelte-ignore state_referenced_locally
  const run = new Run(bench, drill)
  const voice = new CallVoice()
  let byRhythm = $state(recallText('rhythm') === 'on')
  let width = $state(1200)
  let tools = $state<HTMLElement>()
  const KEYS: Record<string, DrillDeed> = {
    ArrowDown: 'brake',
    ArrowLeft: 'down',
    ArrowRight: 'turn',
    ArrowUp: 'throttle',
  }
  const ARROWS: Record<DrillDeed, string> = {
    brake: 'M8 1v13M2.500 8.500L8 14l5.500-5.500',
    down: 'M15 8H2M7.500 2.500L2 8l5.500 5.500',
    turn: 'M1 8h13M8.500 2.500L14 8l-5.500 5.500',
    throttle: 'M8 15V2M2.500 7.500L8 2l5.500 5.500',
  }
  const units = $derived(view.units)
  const lap = $derived(run.lap)
  const place = $derived(run.place)
  /** What is being called: the last that has begun and whose place is still ahead. */
  const call = $derived(
    lap?.calls.filter((one) => one.begins_s <= run.now && one.until_s > run.now).at(-1) ?? null,
  )

  // Only another lap stops the one that runs, not whatever else is told of the plan.
  const driven = $derived(`${standing(bench)}/${view.system}/${drill.lap}`)
  $effect(() => {
    void driven
    untrack(() => void run.load())
  })
  $effect(() => {
    const said = call?.said ?? ''
    untrack(() => {
      if (run.running && said) voice.say(said)
    })
  })
  $effect(() => {
    view.ownKeys = (event) => {
      const deed = KEYS[event.key]
      if (byRhythm && deed && run.running) {
        if (!event.repeat) run.press(deed, event.timeStamp)
        return true
      }
      if (event.key !== ' ') return false
      if ((event.target as HTMLElement).closest('button, a, select, input')) return false
      turn()
      return true
    }
  })
  onDestroy(() => {
    run.stop()
    voice.hush()
  })
  function turn(): void {
    run.turn()
    // On a phone the lap comes before all that stands above it.
    if (run.running && innerWidth < 900) tools?.scrollIntoView({ block: 'start' })
  }
  function section(value: string): void {
    if (value === '') run.choose(null)
    else {
      const [from, to] = value.split('-').map(Number)
      run.choose([from ?? 0, to ?? 0])
    }
  }
</script>

<div class="tools" bind:clientWidth={width} bind:this={tools}>
  <button class="btn btn-primary btn-sm" onclick={turn}
    >{run.running ? 'Stop' : 'Run'} <kbd class="kbd kbd-sm narrow:hidden">Space</kbd></button
  >
  <label
    >at <select
      class="max-w-55"
      aria-label="Share of real speed"
      value={run.ratePct}
      onchange={(event) => run.setRate(Number(event.currentTarget.value))}
    >
      {#each RATES as rate (rate)}<option value={rate}>{rate} %</option>{/each}
    </select></label
  >
  <label
    >of <select
      class="max-w-55"
      aria-label="Which section"
      onchange={(event) => section(event.currentTarget.value)}
    >
      <option value="">the whole lap</option>
      {#each lap?.corners ?? [] as corner, n (n)}
        <option value="{n}-{n}">{n + 1} {corner.name}</option>
        {#if lap?.corners[n + 1]}
          <option value="{n}-{n + 1}"
            >{n + 1}–{n + 2} {corner.name}, {lap.corners[n + 1]?.name}</option
          >
        {/if}
      {/each}
    </select></label
  >
  <label><input type="checkbox" class="checkbox checkbox-xs" bind:checked={run.loop} /> loop</label>
  <label
    ><input
      type="checkbox"
      class="checkbox checkbox-xs"
      bind:checked={byRhythm}
      onchange={() => remember('rhythm', byRhythm ? 'on' : 'off')}
    /> tap the rhythm</label
  >
  <label title={voice.there ? '' : 'No speech voice is installed on this machine'}
    ><input
      type="checkbox"
      class="checkbox checkbox-xs"
      disabled={!voice.there}
      bind:checked={voice.on}
    /> spoken</label
  >
</div>
{#if run.trouble}<p role="alert" class="trouble">{run.trouble}</p>{/if}
{#if lap}
  <div
    class="run"
    data-at-m={place.at_m.toFixed(2)}
    data-now-s={run.now.toFixed(3)}
    data-testid="run"
  >
    <RunCurve {lap} {view} atM={place.at_m} vMs={place.v_ms} {width} />
    <div class="below">
      <RoadAhead {lap} atM={place.at_m} now={run.now} still={!run.running} />
      <div class="told">
        <p class="call figure" data-testid="run-call" aria-live="assertive">{call?.said ?? ''}</p>
        <dl class="gap-x-8.5 gap-y-1.5 flex flex-wrap">
          <div>
            <dt class="text-ink-2 text-[14px]">Speed</dt>
            <dd class="figure text-[34px] leading-none narrow:text-[24px]">
              {whole(units.speed(place.v_ms))} <span class="text-[16px]">{units.speedUnit}</span>
            </dd>
          </div>
          <div>
            <dt class="text-ink-2 text-[14px]">Gear</dt>
            <dd class="figure text-[34px] leading-none narrow:text-[24px]">{place.gear}</dd>
          </div>
          <div>
            <dt class="text-ink-2 text-[14px]">Time</dt>
            <dd class="figure text-[34px] leading-none narrow:text-[24px]">{lapTime(run.now)}</dd>
          </div>
        </dl>
        {#if byRhythm}
          <div class="deeds" role="group" aria-label="What is done">
            {#each lap.deeds as { deed, label } (deed)}
              <button
                class="btn {deed}"
                aria-keyshortcuts={Object.keys(KEYS).find((key) => KEYS[key] === deed)}
                onpointerdown={(event) => {
                  event.preventDefault()
                  run.press(deed, event.timeStamp)
                }}
                ><svg width="16" height="16" aria-hidden="true"
                  ><path d={ARROWS[deed]} fill="none" stroke="currentColor" stroke-width="2" /></svg
                >
                {label}</button
              >
            {/each}
          </div>
        {/if}
      </div>
      <RunMap {lap} atX={place.x} atY={place.y} />
    </div>
    {#if byRhythm && run.rhythm}<RhythmTable rhythm={run.rhythm} />{/if}
  </div>
{:else if !run.trouble}
  <p class="unit wait">Calculating the lap…</p>
{/if}

<style>
  .tools {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 18px;
    align-items: center;
    padding: 8px 0 4px;
    font-size: 15px;
  }
  .tools label {
    display: inline-flex;
    gap: 6px;
    align-items: center;
  }
  .below {
    display: grid;
    grid-template-columns: 250px minmax(0, 1fr) 300px;
    gap: 24px;
    align-items: start;
    padding-top: 8px;
  }
  .call {
    min-height: 80px;
    font-size: 30px;
    line-height: 1.2;
  }
  .deeds {
    display: grid;
    grid-template-columns: repeat(3, minmax(0, 1fr));
    grid-template-areas: '. throttle .' 'down brake turn';
    gap: 8px;
    max-width: 430px;
    padding-top: 18px;
  }
  .deeds .btn {
    height: 62px;
    font-size: 15px;
    touch-action: manipulation;
  }
  .throttle {
    grid-area: throttle;
  }
  .down {
    grid-area: down;
  }
  .brake {
    grid-area: brake;
  }
  .turn {
    grid-area: turn;
  }
  .wait {
    padding: 30px 0;
    font-size: 15px;
  }
  .trouble {
    font-size: 15px;
  }
  @media (max-width: 900px) {
    .below {
      grid-template-columns: minmax(0, 1fr) 110px;
      gap: 8px;
    }
    .told {
      grid-column: 1 / 3;
      grid-row: 1;
    }
    .call {
      font-size: 22px;
      min-height: 54px;
    }
    .deeds {
      position: fixed;
      left: 10px;
      right: 10px;
      bottom: 8px;
      z-index: 5;
      max-width: none;
      padding: 6px;
      background: var(--paper);
    }
    .run {
      padding-bottom: 170px;
    }
  }
</style>
