<script lang="ts">
  import type { Snippet } from 'svelte'
  import type { ImportOptions, ImportPreview } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { plain } from '../parts/format'
  import type { Importing } from './importing.svelte'
  import CurvatureStrip from './CurvatureStrip.svelte'
  import ImportCorners from './ImportCorners.svelte'
  import ImportMap from './ImportMap.svelte'

  /** A track log or a centreline made into a circuit, looked at and corrected; `keep` ends it. */
  let { importing, view, keep }: { importing: Importing; view: View; keep: Snippet } = $props()

  let room = $state(520)
  const width = $derived(Math.min(520, room))
  const preview = $derived(importing.preview)
  const units = $derived(view.units)
  const metres = (m: number, decimals = 0): string =>
    `${plain(units.length(m), decimals)} ${units.lengthUnit}`
  const ROLES = [
    { role: '', label: 'not read' },
    { role: 'x', label: 'x, east (m)' },
    { role: 'y', label: 'y, north (m)' },
    { role: 'lat', label: 'latitude (°)' },
    { role: 'lon', label: 'longitude (°)' },
    { role: 'z', label: 'height (m)' },
    { role: 'left', label: 'to the left edge (m)' },
    { role: 'right', label: 'to the right edge (m)' },
  ] as const
  type Role = keyof NonNullable<ImportOptions['columns']>

  /** As chosen here, or as the file was understood. */
  const roles = (shown: ImportPreview): Record<string, number> =>
    importing.options.columns ?? shown.columns?.roles ?? {}

  function roleOf(shown: ImportPreview, column: number): string {
    const found = Object.entries(roles(shown)).find(([, at]) => at === column)
    return found?.[0] ?? ''
  }
  function setRole(shown: ImportPreview, column: number, role: string): void {
    const others = Object.entries(roles(shown)).filter(
      ([name, at]) => at !== column && name !== role,
    )
    const columns = Object.fromEntries(others) as Record<Role, number>
    if (role) columns[role as Role] = column
    void importing.look({ columns })
  }
</script>

<div class="gap-6.5 flex flex-wrap text-[14px] leading-[1.4]" bind:clientWidth={room}>
  <div class="gap-1.75 w-100 max-w-full flex flex-col items-start">
    <label class="file btn btn-sm btn-outline">
      {preview ? 'Another file' : 'Choose a file'}
      <input
        type="file"
        class="sr-only"
        accept=".gpx,.geojson,.json,.csv,.txt,.tsv"
        onchange={(event) => {
          const file = event.currentTarget.files?.[0]
          if (file) void importing.choose(file)
          event.currentTarget.value = ''
        }}
      />
    </label>
    {#if !preview && importing.faults.length === 0 && !importing.busy}
      <p>
        A track log (GPX), a line or ring with edges (GeoJSON), or text columns: x and y in metres
        or latitude and longitude, with heights and widths if you have them. A sheet of straights
        and corners works too.
      </p>
      <p class="unit">Laps in one log are overlaid. Nothing is saved until you confirm.</p>
    {/if}
    {#if importing.busy}
      <div class="w-full">
        <p role="status">{importing.progress ? `${importing.progress.doing}…` : importing.busy}</p>
        {#if importing.progress}
          <progress
            class="progress progress-primary"
            aria-label="Progress"
            max={importing.progress.steps}
            value={importing.progress.step + 1}
          ></progress>
          <button class="link" onclick={() => void importing.stop()}>stop</button>
        {/if}
      </div>
    {/if}
    {#if importing.faults.length > 0}
      <ul class="text-ember list-inside list-[square]" role="alert">
        {#each importing.faults as fault (fault)}<li>{fault}</li>{/each}
      </ul>
    {/if}
    {#if preview}
      <p>
        {preview.note}.
        {preview.closed
          ? preview.laps > 1
            ? `${preview.laps} complete laps, overlaid.`
            : 'One closed lap.'
          : 'A point-to-point course.'}
        <span class="figure">{metres(preview.length_m)}</span>,
        <span class="figure">{preview.corners.length}</span> corners.
      </p>
      {#if preview.columns && !preview.columns.sure}
        <p class="ask" role="alert">
          The column names are not recognised. Choose what each column is:
        </p>
      {/if}
      {#if preview.columns}
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <div
          class="overflow-x-auto max-w-full"
          role="region"
          tabindex="0"
          aria-label="Columns of the file"
        >
          <table class="ruled">
            <thead>
              <tr>
                {#each preview.columns.header as name, column (column)}
                  <th class="pl-0 pr-2.5 py-0.5" scope="col">
                    {name}
                    <select
                      class="border border-rule block bg-paper"
                      aria-label="Meaning of {name}"
                      value={roleOf(preview, column)}
                      onchange={(event) =>
                        preview && setRole(preview, column, event.currentTarget.value)}
                    >
                      {#each ROLES as one (one.role)}<option value={one.role}>{one.label}</option
                        >{/each}
                    </select>
                  </th>
                {/each}
              </tr>
            </thead>
            <tbody>
              {#each preview.columns.sample.slice(0, 3) as row, index (index)}
                <tr
                  >{#each row as cell, column (column)}<td class="pl-0 pr-2.5 py-0.5">{cell}</td
                    >{/each}</tr
                >
              {/each}
            </tbody>
          </table>
        </div>
      {/if}
      {#if preview.smoothing_m !== null}
        <label class="w-full">
          <span
            >Smoothing: removes detail shorter than <span class="figure"
              >{metres(preview.smoothing_m)}</span
            ></span
          >
          <input
            type="range"
            class="range range-xs block w-full"
            aria-label="Smoothing (m)"
            min="2"
            max="200"
            step="1"
            value={Math.round(preview.smoothing_m)}
            onchange={(event) =>
              void importing.look({ smoothing_m: Number(event.currentTarget.value) })}
          />
        </label>
        <p class="unit">
          Points lie {metres(preview.points_rms_m, 2)} (rms) from the smoothed line, whose tightest place
          has a radius of {metres(1 / Math.max(preview.sharpest_per_m, 1e-6), 1)}; and {metres(
            preview.fit_rms_m,
            2,
          )} from the straights and corners fitted to the points themselves.
          <button class="link" onclick={() => void importing.look({ smoothing_m: null })}
            >Automatic</button
          >
        </p>
      {/if}
      {#if preview.has_heights}
        <label class="gap-1.75 flex items-center"
          ><input
            type="checkbox"
            class="checkbox checkbox-xs"
            checked={importing.options.use_heights ?? true}
            onchange={(event) => void importing.look({ use_heights: event.currentTarget.checked })}
          />
          Take the heights, smoothed over 120 m{#if preview.climb_m !== null}: {metres(
              preview.climb_m,
            )} from lowest to highest{/if}</label
        >
        <label class="line gap-2 whitespace-nowrap flex items-center"
          >Heights in
          <select
            class="select select-xs"
            value={preview.heights_in}
            onchange={(event) =>
              void importing.look({ heights_in: event.currentTarget.value as 'm' | 'ft' })}
          >
            <option value="m">metres</option>
            <option value="ft">feet</option>
          </select></label
        >
      {/if}
      {#if preview.heights_said}<p class="unit" data-testid="heights-said">
          Heights: {preview.heights_said}.
        </p>{/if}
      <fieldset>
        <legend>The points are</legend>
        {#each [{ value: 'road', label: 'the middle of the road: a line is computed on it' }, { value: 'driven', label: 'the driven path: the lap follows it' }] as const as one (one.value)}
          <label class="gap-1.75 flex items-center"
            ><input
              type="radio"
              class="radio radio-xs"
              name="describe"
              checked={(importing.options.segments_describe ?? 'road') === one.value}
              onchange={() => void importing.look({ segments_describe: one.value })}
            />
            {one.label}</label
          >
        {/each}
      </fieldset>
      <label class="line gap-2 whitespace-nowrap flex items-center"
        >Road width
        <input
          class="input input-xs bg-paper w-[7ch]"
          inputmode="decimal"
          value={plain(units.length(preview.width_m), 1)}
          onchange={(event) => {
            const width = units.read(Number(event.currentTarget.value.replace(',', '.')), 'length')
            if (width > 2) void importing.look({ width_m: width })
          }}
        />
        {units.lengthUnit}{preview.has_widths ? ', measured' : ', assumed'}</label
      >
      {#each preview.crossings as said (said)}<p class:ask={said.endsWith('?')}>
          {said.charAt(0).toUpperCase()}{said.slice(1)}
        </p>{/each}
      {#if importing.asked}
        <label class="gap-1.75 flex items-center"
          ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={importing.bridges} /> Yes,
          a bridge</label
        >
      {/if}
      <label class="line gap-2 whitespace-nowrap flex items-center"
        >Name <input class="input input-sm bg-paper w-[16ch]" bind:value={importing.name} /></label
      >
      {@render keep()}
    {/if}
  </div>
  {#if preview}
    <div class="max-w-full overflow-x-auto">
      <ImportMap {preview} {width} height={330} />
      <CurvatureStrip {preview} {width} />
      <ImportCorners {importing} {view} />
    </div>
  {/if}
</div>

<style>
  .file:focus-within {
    outline: 2px solid var(--cool);
  }
  .ask {
    font-weight: 600;
  }
</style>
