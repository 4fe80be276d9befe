<script lang="ts">
  import type { LineSettings, RoadDrawing } from '../api/client'
  import type { View } from '../state/view.svelte'
  import Figure from '../parts/Figure.svelte'
  import { plain, whole } from '../parts/format'
  import { changedParts, lineName } from './names'
  import type { LineSearch } from './search.svelte'

  /** Which line is driven and whether it is still true; what is asked of it; the search. */
  let { road, search, view }: { road: RoadDrawing; search: LineSearch; view: View } = $props()

  type Wish = NonNullable<LineSettings['corners']>[number]
  type Asked = 'apex_no_earlier_pct' | 'apex_no_later_pct' | 'radius_m'

  const units = $derived(view.units)
  const told = $derived(road.told)
  const settings = $derived(road.settings)
  const corner = $derived(view.corner === null ? null : (road.corners[view.corner] ?? null))
  const wish = $derived(
    settings.corners?.find((one) => one.corner === view.corner) ?? ({ corner: -1 } as Wish),
  )
  const line = $derived(view.corner === null ? null : (road.line.corners[view.corner] ?? null))
  let refusal = $state.raw<{ key: string; message: string } | null>(null)

  async function ask(key: string, change: Partial<LineSettings>): Promise<void> {
    const refused = await search.ask(change)
    refusal = refused === null ? null : { key, message: refused }
  }
  function wished(key: Asked, value: number | null): void {
    if (view.corner === null) return
    const others = (settings.corners ?? []).filter((one) => one.corner !== view.corner)
    const mine = { ...wish, corner: view.corner, [key]: value }
    const asks = mine.apex_no_earlier_pct ?? mine.apex_no_later_pct ?? mine.radius_m ?? null
    void ask(key, { corners: asks === null ? others : [...others, mine] })
  }
  const WISHES: { key: Asked; label: string; unit: string; usual: number; step: number }[] = [
    {
      key: 'apex_no_earlier_pct',
      label: 'Apex no earlier than',
      unit: '% of the angle',
      usual: 60,
      step: 5,
    },
    {
      key: 'apex_no_later_pct',
      label: 'Apex no later than',
      unit: '% of the angle',
      usual: 50,
      step: 5,
    },
    { key: 'radius_m', label: 'Driven radius', unit: '', usual: 50, step: 1 },
  ]
  function usual(key: Asked, standard: number): number {
    return key === 'radius_m' ? Math.round(line?.radius_m ?? standard) : standard
  }
  const holds = $derived(settings.holds ?? [])
  type Hold = (typeof holds)[number]

  /** Where the line is now in the middle of the corner; both figures can then be changed. */
  function hold(): void {
    if (!corner) return
    const length = road.road_at_m[road.road_at_m.length - 1] ?? 1
    const at_m = Math.round(((corner.begins_at_m + corner.ends_at_m) / 2) % length)
    const node = road.road_at_m.findIndex((at) => at >= at_m)
    const offset_m = Math.round((road.line.offset_m[Math.max(node, 0)] ?? 0) * 10) / 10
    void ask('holds', { holds: [...holds, { at_m, offset_m }] })
  }
  function holdOther(index: number, key: string, change: Partial<Hold>): void {
    const changed = holds.map((one, other) => (other === index ? { ...one, ...change } : one))
    void ask(`${key}${index}`, { holds: changed })
  }
</script>

<section class="flex-none w-72 text-[14px]" aria-label="The line">
  <h2 class="figure text-[23px] leading-[1.2]">{lineName(told.driven)}</h2>
  {#if told.driven === 'centre' && told.wanted !== 'centre'}
    <p>No line calculated yet; the lap follows the middle of the road.</p>
  {:else if told.changed_since.length > 0}
    <p class="font-semibold">
      Calculated before {changedParts(told.changed_since)} changed.
    </p>
  {:else if told.driven !== 'centre'}
    <p class="unit">Calculated for this car on this road.</p>
  {/if}

  {#if (told.lost_wishes ?? []).length > 0}
    <p class="font-semibold">
      The override at {(told.lost_wishes ?? []).join(', ')} is not used: no corner has this name.
    </p>
  {/if}

  {#if search.running && search.job}
    <p role="status" class="min-h-9.5">
      {#if search.job.looking_for}
        Looking for: {lineName(search.job.looking_for).toLowerCase()}, iteration {search.job
          .iteration}{#if search.job.looking_for === 'fastest' && search.job.objective !== null},
          {search.job.objective.toFixed(1)} s{/if}
      {:else}Starting the search…{/if}
    </p>
    <button
      class="px-2.5 py-0.75 mx-0 my-1 border border-ink cursor-pointer font-semibold"
      onclick={() => void search.cancel()}>Stop, keep the best so far</button
    >
  {:else}
    <p class="gap-1.5 flex flex-wrap">
      {#if told.wanted !== 'centre' && (told.changed_since.length > 0 || told.driven === 'centre')}
        <button
          class="px-2.5 py-0.75 mx-0 my-1 border border-ink cursor-pointer font-semibold bg-ink text-paper"
          onclick={() => void search.search([told.wanted], true)}
          >Calculate {lineName(told.wanted).toLowerCase()}</button
        >
      {/if}
      <button
        class="px-2.5 py-0.75 mx-0 my-1 border border-ink cursor-pointer font-semibold"
        onclick={() => void search.search(['centre', 'short', 'widest', 'late_apex', 'fastest'])}
        >Calculate and compare all</button
      >
    </p>
  {/if}

  <table class="ruled">
    <tbody>
      <tr>
        <th scope="row">Margin to the edges</th>
        <td
          ><Figure
            label="Margin to the edges ({units.lengthUnit})"
            value={units.length(settings.margin_m ?? 0)}
            decimals={2}
            step={0.1}
            fine={0.05}
            width="5ch"
            size="16px"
            refusal={refusal?.key === 'margin' ? refusal.message : null}
            change={(shown) => void ask('margin', { margin_m: units.read(shown, 'length') })}
            done={() => undefined}
            refuse={(message) => (refusal = { key: 'margin', message })}
            forget={() => (refusal = null)}
          /></td
        ><td class="unit">{units.lengthUnit}</td>
      </tr>
      <tr>
        <th scope="row">Vehicle</th>
        <td class="figure text-[16px] font-semibold"
          >{plain(units.length(road.vehicle_width_m), 2)}</td
        >
        <td class="unit">{units.lengthUnit} wide{road.vehicle_width_stated ? '' : ', assumed'}</td>
      </tr>
    </tbody>
  </table>

  {#if corner && line}
    <h3 class="pt-1.5 mt-2.5 border-t-2 border-t-ink text-[17px]">
      <span class="figure">{(view.corner ?? 0) + 1}</span> <span class="place">{corner.name}</span>
    </h3>
    <table class="ruled">
      <tbody>
        <tr>
          <th scope="row">Road, centre line</th>
          <td class="figure text-[16px] font-semibold">{plain(units.length(corner.radius_m), 1)}</td
          >
          <td class="unit">{units.lengthUnit}, {plain(corner.angle_deg, 1)}° {corner.direction}</td>
        </tr>
        <tr>
          <th scope="row">Driven, tightest</th>
          <td class="figure text-[16px] font-semibold"
            >{line.radius_m === null ? '–' : plain(units.length(line.radius_m), 1)}</td
          >
          <td class="unit"
            >{units.lengthUnit}, {whole(units.speed(line.min_speed_ms))} {units.speedUnit}</td
          >
        </tr>
        {#if corner.widest_arc_radius_m}
          <tr
            title="R = inner + (outer − inner) / (1 − cos half the angle), with straights long enough on both sides"
          >
            <th scope="row">Widest single arc</th>
            <td class="figure text-[16px] font-semibold"
              >{plain(units.length(corner.widest_arc_radius_m), 1)}</td
            >
            <td class="unit">{units.lengthUnit}, for this corner alone</td>
          </tr>
        {/if}
        {#each WISHES as one (one.key)}
          {@const asked = wish[one.key] ?? null}
          {@const length = one.key === 'radius_m'}
          {@const unit = length ? units.lengthUnit : one.unit}
          <tr>
            <th scope="row">{one.label}</th>
            {#if asked === null}
              <td colspan="2"
                ><button class="link" onclick={() => wished(one.key, usual(one.key, one.usual))}
                  >Set<span class="sr-only">: {one.label.toLowerCase()}</span></button
                ></td
              >
            {:else}
              <td
                ><Figure
                  label="{one.label} ({unit})"
                  value={length ? units.length(asked) : asked}
                  decimals={1}
                  step={one.step}
                  fine={one.step / 5}
                  width="5ch"
                  size="16px"
                  refusal={refusal?.key === one.key ? refusal.message : null}
                  change={(shown) => wished(one.key, length ? units.read(shown, 'length') : shown)}
                  done={() => undefined}
                  refuse={(message) => (refusal = { key: one.key, message })}
                  forget={() => (refusal = null)}
                /></td
              ><td class="unit"
                >{unit}
                <button class="link" onclick={() => wished(one.key, null)}
                  >Clear<span class="sr-only"> of: {one.label.toLowerCase()}</span></button
                ></td
              >
            {/if}
          </tr>
        {/each}
      </tbody>
    </table>
    <button class="link" onclick={hold}>Fix the line at a place</button>
  {:else}
    <p class="unit pt-2.5">
      Choose a corner on the map or in the table to see and adjust its line.
    </p>
  {/if}

  {#if holds.length > 0}
    <h3 class="pt-1.5 mt-2.5 border-t-2 border-t-ink text-[17px]">Fixed at a place</h3>
    <ul>
      {#each holds as hold, index (index)}
        <li>
          <Figure
            label="Fixed at ({units.lengthUnit})"
            value={units.length(hold.at_m)}
            decimals={0}
            step={5}
            fine={1}
            width="5ch"
            size="16px"
            refusal={refusal?.key === `at${index}` ? refusal.message : null}
            change={(shown) => holdOther(index, 'at', { at_m: units.read(shown, 'length') })}
            done={() => undefined}
            refuse={(message) => (refusal = { key: `at${index}`, message })}
            forget={() => (refusal = null)}
          />
          <span class="unit">{units.lengthUnit} along the road,</span>
          <Figure
            label="Left of the middle ({units.lengthUnit})"
            value={units.length(hold.offset_m)}
            decimals={2}
            step={0.5}
            fine={0.1}
            width="5ch"
            size="16px"
            refusal={refusal?.key === `off${index}` ? refusal.message : null}
            change={(shown) => holdOther(index, 'off', { offset_m: units.read(shown, 'length') })}
            done={() => undefined}
            refuse={(message) => (refusal = { key: `off${index}`, message })}
            forget={() => (refusal = null)}
          />
          <span class="unit">{units.lengthUnit} left of its middle</span>
          <button
            class="link"
            onclick={() =>
              void ask('holds', { holds: holds.filter((_, other) => other !== index) })}
            >Clear<span class="sr-only"> of the line at {whole(hold.at_m)} m</span></button
          >
        </li>
      {/each}
    </ul>
  {/if}
</section>

<style>
  p {
    margin: 3px 0;
    line-height: 1.35;
  }
  th,
  td {
    padding: 3px 6px 3px 0;
    vertical-align: baseline;
  }
</style>
