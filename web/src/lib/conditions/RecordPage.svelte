<script lang="ts">
  import { plain, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { WeatherFigure, WeatherRecord } from '../api/client'
  import ReadingsTable from './ReadingsTable.svelte'
  import TypedForecast from './TypedForecast.svelte'
  import StationPart from './StationPart.svelte'
  import WeatherFile from './WeatherFile.svelte'
  import type { Weather } from './weather.svelte'

  /** Where the weather comes from: a record, its readings typed or read, the station, the road. */
  let { bench, view, weather }: { bench: Workbench; view: View; weather: Weather } = $props()
  const units = $derived(view.units)

  /** Which readings are shown: the measured ones (-1), or those of a weather by its number. */
  let shown = $state(-1)
  let refusal = $state('')
  const record = $derived(weather.record)
  const kept = $derived(weather.now?.weather)
  const weathers = $derived(record?.weathers ?? [])
  const part = $derived(shown < weathers.length ? shown : -1)
  const readings = $derived((part < 0 ? record?.readings : weathers[part]?.readings) ?? [])
  const figures = (wanted: WeatherFigure['part']): WeatherFigure[] =>
    weather.figures.filter((figure) => figure.part === wanted)

  async function write(changed: WeatherRecord, remark: string): Promise<void> {
    refusal = (await weather.write(changed, remark)) ?? ''
  }
  function writeReadings(changed: typeof readings, remark: string): void {
    if (!record) return
    if (part < 0) void write({ ...record, readings: changed }, remark)
    else {
      const all = weathers.map((one, n) => (n === part ? { ...one, readings: changed } : one))
      void write({ ...record, weathers: all }, remark)
    }
  }
  function rename(field: HTMLInputElement): void {
    if (record && field.value.trim() !== '') void write({ ...record, name: field.value }, 'Renamed')
  }
  function constant(of: 'water' | 'rubber', figure: WeatherFigure, field: HTMLInputElement): void {
    const value = typedNumber(field.value)
    if (!record) return
    if (value === null) {
      refusal = `${figure.label}: “${field.value}” was typed; a number is expected.`
      return
    }
    void write(
      { ...record, [of]: { ...record[of], [figure.name]: units.read(value, figure.quantity) } },
      `${figure.label} ${field.value} ${units.unitFor(figure)}`.trim(),
    )
  }
  /** Another weather begins as the last one goes on, or from the last measured reading. */
  function add(): void {
    if (!record) return
    const from = weathers.at(-1)?.readings ?? record.readings?.slice(-1) ?? []
    if (from.length === 0) return
    const later =
      weathers.length > 0 ? from : from.map((one) => ({ ...one, at: after(one.at, 3600) }))
    let name = `Forecast ${weathers.length + 1}`
    while (weathers.some((one) => one.name === name)) name += ' '
    shown = weathers.length
    void write(
      {
        ...record,
        weathers: [...weathers, { name: name.trim(), chance_pct: 20, readings: later }],
      },
      'Forecast added',
    )
  }
  function after(at: string, seconds: number): string {
    return new Date(Date.parse(`${at}Z`) + 1000 * seconds).toISOString().slice(0, 19)
  }
  function weatherFigure(change: Partial<(typeof weathers)[number]>, remark: string): void {
    if (!record) return
    const all = weathers.map((one, n) => (n === part ? { ...one, ...change } : one))
    void write({ ...record, weathers: all }, remark)
  }
  function drop(): void {
    if (!record || part < 0) return
    const gone = weathers[part]
    const all = weathers.filter((_, n) => n !== part)
    shown = -1
    void write({ ...record, weathers: all }, `${gone?.name ?? 'Forecast'} removed`)
  }
</script>

<div class="page pt-1.5 gap-7.5 flex narrow:flex-col">
  <div class="gap-4 flex-none w-80 flex flex-col narrow:w-full">
    <section>
      <h2 class="font-figures text-[17px] font-semibold">Record</h2>
      <label class="px-0 py-0.5 block"
        ><span class="unit">Record for this plan</span>
        <select
          class="text-[15px] font-semibold bg-paper max-w-75"
          aria-label="Record of the weather"
          value={kept ? String(kept.id) : ''}
          onchange={(event) =>
            void weather.choose({
              weather_id: event.currentTarget.value ? Number(event.currentTarget.value) : null,
            })}
        >
          <option value="">no record</option>
          {#each weather.kept as one (one.id)}<option value={String(one.id)}>{one.name}</option
            >{/each}
        </select></label
      >
      {#if kept && record}
        <label class="wide px-0 py-0.5 block"
          ><span class="unit">Name</span>
          <input
            class="name"
            aria-label="Name of the record"
            value={record.name}
            onchange={(event) => rename(event.currentTarget)}
          /></label
        >
        <p class="unit">
          {record.readings?.length ?? 0} readings, {weathers.length} forecasts; revision {kept.revision}{record.simulated
            ? '; simulated'
            : ''}
        </p>
        <p class="gap-3.5 flex">
          <a class="link" href="/api/weather/{kept.id}/record.csv" download>CSV</a>
          <a class="link" href="/api/weather/{kept.id}/record.json" download>JSON</a>
        </p>
      {/if}
      <p>
        <button class="btn btn-sm btn-outline" onclick={() => void weather.begin()}
          >Type a new record</button
        >
      </p>
      <TypedForecast {weather} added={() => (shown = weathers.length - 1)} />
      <WeatherFile {weather} />
    </section>
    <StationPart {bench} {view} {weather} />
  </div>
  {#if record}
    <div class="flex-1 min-w-0">
      {#if refusal}<p role="alert" class="refusal">{refusal}</p>{/if}
      <div class="pb-2 gap-x-8.5 gap-y-1.5 flex flex-wrap">
        {#each [['water', 'Water on the road'], ['rubber', 'Rubber on the track']] as const as [of, title] (of)}
          <section aria-label={title}>
            <h2 class="font-figures text-[17px] font-semibold">{title} (assumptions)</h2>
            <div class="gap-x-4.5 gap-y-0.5 flex flex-wrap max-w-130">
              {#each figures(of) as figure (figure.name)}
                <label class="flex flex-col" title={figure.says}
                  ><span class="unit">{figure.label}</span>
                  <span
                    ><input
                      inputmode="decimal"
                      aria-label="{figure.label}{units.unitFor(figure)
                        ? `, ${units.unitFor(figure)}`
                        : ''}"
                      value={plain(
                        units.show(
                          (record[of] as Record<string, number> | undefined)?.[figure.name] ?? 0,
                          figure.quantity,
                        ),
                        3,
                      )}
                      onchange={(event) => constant(of, figure, event.currentTarget)}
                    />
                    <span class="unit">{units.unitFor(figure)}</span></span
                  ></label
                >
              {/each}
            </div>
          </section>
        {/each}
      </div>
      <div class="pb-1 gap-x-4.5 gap-y-0.5 flex flex-wrap items-baseline text-[14px]">
        <label
          >Readings <select
            class="text-[15px] font-semibold bg-paper max-w-75"
            aria-label="Which readings"
            value={String(part)}
            onchange={(event) => (shown = Number(event.currentTarget.value))}
          >
            <option value="-1">measured</option>
            {#each weathers as one, n (one.name)}<option value={String(n)}>{one.name}</option
              >{/each}
          </select></label
        >
        {#if part >= 0}
          <label
            >Name <input
              class="name"
              aria-label="Name of this forecast"
              value={weathers[part]?.name ?? ''}
              onchange={(event) =>
                weatherFigure({ name: event.currentTarget.value }, 'Forecast renamed')}
            /></label
          >
          <label
            >Chance <input
              inputmode="decimal"
              aria-label="Chance of this forecast, %"
              value={plain(weathers[part]?.chance_pct ?? 0, 0)}
              onchange={(event) => {
                const value = typedNumber(event.currentTarget.value)
                if (value !== null) weatherFigure({ chance_pct: value }, 'Chance changed')
              }}
            /> %</label
          >
          <button class="link" onclick={drop}>Remove this forecast</button>
        {/if}
        <button class="link" onclick={add}>Add a forecast</button>
      </div>
      <ReadingsTable
        {readings}
        figures={figures('reading')}
        {view}
        write={writeReadings}
        refuse={(why) => (refusal = why)}
      />
    </div>
  {/if}
</div>

<style>
  input {
    width: 56px;
    font-family: var(--figures);
    font-size: 16px;
    font-weight: 600;
    background: transparent;
    border-bottom: 1px dotted var(--ink-2);
  }
  .name {
    width: 220px;
  }
</style>
