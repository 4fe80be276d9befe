<script lang="ts">
  import TypedForecast from '../conditions/TypedForecast.svelte'
  import type { Weather } from '../conditions/weather.svelte'
  import type { Workbench } from '../state/workbench.svelte'

  /** In which weather the race is planned: the plan's own, or along its record from a moment on. */
  let { bench, weather }: { bench: Workbench; weather: Weather } = $props()

  const rules = $derived(bench.open?.plan.race)
  const begins = $derived(rules?.starts_at ?? null)
  const from = $derived(weather.now?.weather?.race_from ?? null)

  async function begin(moment: string | null): Promise<void> {
    if (!rules) return
    const refused = await bench.editPlan({ race: { ...rules, starts_at: moment } })
    if (refused) bench.say(refused)
  }
</script>

{#if !weather.record}
  <p>No record of the weather is chosen for this plan; choose one under Conditions, or type it.</p>
  <TypedForecast {weather} added={() => void begin(from)} />
{:else if begins === null}
  <p>The race uses the plan’s own weather.</p>
  {#if from}
    <button class="link" onclick={() => void begin(from)}>Use {weather.record.name}</button>
  {/if}
{:else}
  <p>
    Along <span class="place">{weather.record.name}</span>, from
    <input
      class="dotted-below w-50 font-figures text-[15px] font-semibold bg-transparent"
      type="datetime-local"
      aria-label="When the race begins"
      value={begins.slice(0, 16)}
      onchange={(event) => void begin(event.currentTarget.value || null)}
    />
    <button class="link" onclick={() => void begin(null)}>Use the plan’s weather</button>
  </p>
{/if}
