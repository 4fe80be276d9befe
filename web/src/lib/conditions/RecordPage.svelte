<script lang="ts">
  import { plain, typedNumber } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { WeatherFigure, WeatherRecord } from '../api/client'
  import ReadingsTable from './ReadingsTable.svelte'
  import StationPart from './StationPart.svelte'
  import WeatherFile from './WeatherFile.svelte'
  import type { Weather } from './weather.svelte'

  /** Where the weather comes from: a record, its readings typed or read, the station, the road. */
  let { bench, view, weather }: { bench: Workbench; view: View; weather: Weather } = $props()

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
      { ...record, [of]: { ...record[of], [figure.name]: value } },
      `${figure.label} ${plain(value, 3)} ${figure.unit}`.trim(),
    )
  }
  /** Another weather begins as the last one goes on, or from the last measured reading. */
  function add(): void {
    if (!record) return
    const from = weathers.at(-1)?.readings ?? record.readings?.slice(-1) ?? []
    if (from.length === 0) return
    const later =
      weathers.length > 0 ? from : from.map((one) => ({ ...one, at: after(one.at, 3600) }))
    let name = `Weather ${weathers.length + 1}`
    while (weathers.some((one) => one.name === name)) name += ' '
    shown = weathers.length
    void write(
      {
        ...record,
        weathers: [...weathers, { name: name.trim(), chance_pct: 20, readings: later }],
      },
      'Another weather',
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
    void write({ ...record, weathers: all }, `${gone?.name ?? 'A weather'} taken out`)
  }
</script>

<div class="page">
  <div class="left">
    <section>
      <h2>Record</h2>
      <label
        ><span class="unit">This plan is looked at along</span>
        <select
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
        <label class="wide"
          ><span class="unit">Name</span>
          <input
            class="name"
            aria-label="Name of the record"
            value={record.name}
            onchange={(event) => rename(event.currentTarget)}
          /></label
        >
        <p class="unit">
          {record.readings?.length ?? 0} readings, {weathers.length} that may come; revision {kept.revision}{record.simulated
            ? '; simulated, no instrument read it'
            : ''}
        </p>
        <p class="links">
          <a class="link" href="/api/weather/{kept.id}/record.csv" download>CSV</a>
          <a class="link" href="/api/weather/{kept.id}/record.json" download>JSON</a>
        </p>
      {/if}
      <p>
        <button class="btn btn-sm btn-outline" onclick={() => void weather.begin()}
          >Type a new record</button
        >
      </p>
      <WeatherFile {weather} />
    </section>
    <StationPart {bench} {view} {weather} />
  </div>
  {#if record}
    <div class="right">
      {#if refusal}<p role="alert" class="refusal">{refusal}</p>{/if}
      <div class="constants">
        {#each [['water', 'Water on the road'], ['rubber', 'Rubber on the track']] as const as [of, title] (of)}
          <section aria-label={title}>
            <h2>{title}, as assumed</h2>
            <div class="cells">
              {#each figures(of) as figure (figure.name)}
                <label title={figure.says}
                  ><span class="unit">{figure.label}</span>
                  <span
                    ><input
                      inputmode="decimal"
                      aria-label="{figure.label}{figure.unit ? `, ${figure.unit}` : ''}"
                      value={plain(
                        Number(
                          (record[of] as Record<string, number> | undefined)?.[figure.name] ?? 0,
                        ),
                        3,
                      )}
                      onchange={(event) => constant(of, figure, event.currentTarget)}
                    />
                    <span class="unit">{figure.unit}</span></span
                  ></label
                >
              {/each}
            </div>
          </section>
        {/each}
      </div>
      <div class="which">
        <label
          >Readings <select
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
              aria-label="Name of this weather"
              value={weathers[part]?.name ?? ''}
              onchange={(event) =>
                weatherFigure({ name: event.currentTarget.value }, 'A weather renamed')}
            /></label
          >
          <label
            >Chance <input
              inputmode="decimal"
              aria-label="Chance of this weather, %"
              value={plain(weathers[part]?.chance_pct ?? 0, 0)}
              onchange={(event) => {
                const value = typedNumber(event.currentTarget.value)
                if (value !== null) weatherFigure({ chance_pct: value }, 'A chance changed')
              }}
            /> %</label
          >
          <button class="link" onclick={drop}>take this weather out</button>
        {/if}
        <button class="link" onclick={add}>add a weather that may come</button>
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
  .page {
    display: flex;
    gap: 30px;
    padding-top: 6px;
  }
  .left {
    width: 320px;
    flex: none;
    display: flex;
    flex-direction: column;
    gap: 16px;
  }
  .right {
    flex: 1;
    min-width: 0;
  }
  h2 {
    font-family: var(--figures);
    font-size: 17px;
    font-weight: 600;
  }
  .left label {
    display: block;
    padding: 2px 0;
  }
  select {
    font-size: 15px;
    font-weight: 600;
    background: var(--paper);
    max-width: 300px;
  }
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
  .links {
    display: flex;
    gap: 14px;
  }
  .constants {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 34px;
    padding-bottom: 8px;
  }
  .cells {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 18px;
    max-width: 520px;
  }
  .cells label {
    display: flex;
    flex-direction: column;
  }
  .which {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 2px 18px;
    font-size: 14px;
    padding-bottom: 4px;
  }
  @media (max-width: 900px) {
    .page {
      flex-direction: column;
    }
    .left {
      width: 100%;
    }
  }
</style>
