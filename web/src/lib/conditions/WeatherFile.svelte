<script lang="ts">
  import { answer, client, fileFault, type ColumnChoice, type WeatherPreview } from '../api/client'
  import type { Weather } from './weather.svelte'

  /** A record read from a file: its columns and units as they were recognised, to be put right. */
  let { weather }: { weather: Weather } = $props()

  let name = $state('')
  let text = $state('')
  let day = $state(new Date().toISOString().slice(0, 10))
  let preview = $state.raw<WeatherPreview | null>(null)
  /** Columns as they were chosen last, which the preview may not have caught up with yet. */
  let columns = $state.raw<ColumnChoice[] | null>(null)
  let refusal = $state('')
  let asked = 0

  async function opened(field: HTMLInputElement): Promise<void> {
    const file = field.files?.[0]
    if (!file) return
    name = file.name.replace(/\.[^.]*$/, '')
    text = await file.text()
    await look(null)
    field.value = ''
  }
  async function look(chosen: ColumnChoice[] | null): Promise<void> {
    columns = chosen
    const turn = ++asked
    const { data, error } = await answer(
      client.POST('/api/weather/look', { body: { name, text, day: `${day}T00:00`, columns } }),
    )
    if (turn !== asked) return
    refusal = data ? '' : fileFault(error)
    preview = data ?? null
    columns = data?.kind === 'columns' ? (data.columns ?? null) : null
  }
  function choose(role: string, number: number, unit: string | null): void {
    if (!preview) return
    const units = (preview.roles ?? []).find((one) => one.role === role)?.units ?? []
    const others = (columns ?? []).filter((one) => one.role !== role)
    const chosen =
      number < 0
        ? others
        : [...others, { role: role as ColumnChoice['role'], number, unit: unit ?? units[0] ?? '' }]
    void look(chosen)
  }
  function close(): void {
    asked += 1
    preview = null
    text = ''
  }
  async function keep(): Promise<void> {
    asked += 1
    const { data, error } = await answer(
      client.POST('/api/weather/keep', { body: { name, text, day: `${day}T00:00`, columns } }),
    )
    refusal = data ? '' : fileFault(error)
    if (!data) return
    close()
    await weather.choose({ weather_id: data.weather_id })
    await weather.loadRecords()
  }
</script>

<p>
  <label class="link inline-block"
    >Read a record from a file…<input
      class="sr-only"
      type="file"
      accept=".csv,.txt,.tsv,.json"
      onchange={(event) => void opened(event.currentTarget)}
    /></label
  >
</p>
{#if refusal}<p role="alert" class="refusal">{refusal}</p>{/if}
{#if preview}
  <div class="preview pl-2.5 border-l-2 border-l-rule" data-testid="weather-file">
    {#if preview.kind === 'columns'}
      <label
        >Day for times without one: <input
          class="dotted-below bg-transparent"
          type="date"
          aria-label="Day of the record"
          bind:value={day}
          onchange={() => void look(columns)}
        /></label
      >
      <table class="ruled">
        <caption class="sr-only">Columns</caption>
        <tbody>
          {#each preview.roles ?? [] as role (role.role)}
            {@const column = (columns ?? []).find((one) => one.role === role.role)}
            <tr>
              <th scope="row">{role.label}</th>
              <td
                ><select
                  class="max-w-32.5 bg-paper text-[14px]"
                  aria-label="Column of {role.label}"
                  value={String(column?.number ?? -1)}
                  onchange={(event) => choose(role.role, Number(event.currentTarget.value), null)}
                >
                  <option value="-1">not in the file</option>
                  {#each preview.header ?? [] as heading, n (n)}<option value={String(n)}
                      >{heading}</option
                    >{/each}
                </select></td
              >
              <td
                >{#if column}<select
                    class="max-w-32.5 bg-paper text-[14px]"
                    aria-label="Unit of {role.label}"
                    value={column.unit}
                    onchange={(event) =>
                      choose(role.role, column.number, event.currentTarget.value)}
                  >
                    {#each role.units as unit (unit)}<option value={unit}>{unit}</option>{/each}
                  </select>{/if}</td
              >
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
    {#if preview.fault}<p role="alert" class="refusal">{preview.fault}</p>{/if}
    {#if preview.count}
      <p class="unit">
        {preview.count} readings, {preview.first_at?.replace('T', ' ')} to {preview.last_at?.slice(
          11,
          16,
        )}{(preview.missing ?? []).length > 0 && preview.kind === 'columns'
          ? `; not in the file, typical values used: ${(preview.missing ?? []).join(', ').toLowerCase()}`
          : ''}
      </p>
    {/if}
    <p class="gap-3.5 flex">
      <button class="link" disabled={!preview.count} onclick={() => void keep()}
        >Save and use it</button
      >
      <button class="link" onclick={close}>Discard</button>
    </p>
  </div>
{/if}
