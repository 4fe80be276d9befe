<script lang="ts">
  import type { Race } from '../api/client'
  import { typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Studies } from '../trade/studies.svelte'
  import StintTable from './StintTable.svelte'

  /** A safety car or full-course yellow that is out now: on which lap, for how long, and what to do. */
  let { view, studies, race }: { view: View; studies: Studies; race: Race } = $props()

  const now = $derived(studies.now)
  const lap = $derived(now?.slow_laps ? (now.lap ?? 0) + 1 : null)
  const laps = $derived(now?.slow_laps ?? 4)
  const told = $derived(race.neutralised ?? null)

  function take(onLap: number | null, forLaps: number | null): void {
    if (onLap === null || forLaps === null || onLap < 2 || onLap >= race.laps || forLaps < 1) return
    studies.standAt({ ...now, lap: Math.round(onLap) - 1, slow_laps: Math.round(forLaps) })
  }
</script>

<p class="pb-1 text-[15px]">
  Now on lap
  <input
    class="dotted-below w-11 font-figures text-[15px] font-semibold bg-transparent text-right"
    inputmode="numeric"
    aria-label="Lap on which the safety car is out"
    value={lap ?? ''}
    onchange={(event) => take(typedNumber(event.currentTarget.value), laps)}
  />
  of {race.laps}, neutralised for
  <input
    class="dotted-below w-11 font-figures text-[15px] font-semibold bg-transparent text-right"
    inputmode="numeric"
    aria-label="Laps that the neutralisation takes"
    value={laps}
    onchange={(event) => take(lap, typedNumber(event.currentTarget.value))}
  />
  laps
  {#if lap !== null}<button class="link" onclick={() => studies.standAt(null)}>Clear</button>{/if}
</p>
{#if told}
  <div aria-live="polite" data-testid="neutralised">
    <p class="font-figures text-[17px]">{told.said}</p>
    <StintTable plan={told.plan} units={view.units} label="Stints from lap {told.lap + 1} on" />
  </div>
{/if}
