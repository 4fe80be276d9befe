<script lang="ts">
  import type { Season } from '../api/client'
  import { plain, typedNumber } from '../parts/format'
  import type { Units } from '../parts/units'
  import type { Logbook } from './logbook.svelte'

  /** What a run was driven with and by: written where it stands, all of it optional. */
  let { book, units }: { book: Logbook; units: Units } = $props()

  const open = $derived(book.open)
  const run = $derived(book.open?.run)
  const events = $derived((book.season?.events ?? []).filter((event) => event.here))
  const placed = $derived(open?.event_id ? `${open.event_id}/${open.session ?? ''}` : '')
  let naming = $state('')
  const sessionsOf = (season: Season | null, id: number): { number: number; name: string }[] =>
    season?.events.find((event) => event.id === id)?.sessions ?? []

  function number(text: string): number | null {
    return text.trim() === '' ? null : typedNumber(text)
  }
  const mass = (kg: number | null | undefined): string =>
    kg === null || kg === undefined ? '' : plain(units.show(kg, 'mass'), 1)
  const massRead = (text: string): number | null => {
    const value = number(text)
    return value === null ? null : units.read(value, 'mass')
  }
</script>

{#if open && run}
  <dl class="record px-0 py-1 gap-x-5.5 gap-y-0.5 flex flex-wrap">
    <div>
      <dt>Session</dt>
      <dd>
        <select
          aria-label="Event and session of the run"
          value={placed}
          onchange={(event) => {
            const [id, session] = event.currentTarget.value.split('/')
            void book.write({
              belongs: {
                event_id: id ? Number(id) : null,
                session: session ? Number(session) : null,
              },
            })
          }}
        >
          <option value="">no event</option>
          {#each events as one (one.id)}
            {#each sessionsOf(book.season, one.id) as session (session.number)}
              <option value="{one.id}/{session.number}">{one.name}, {session.name}</option>
            {/each}
          {/each}
        </select>
      </dd>
    </div>
    <div>
      <dt>Driven at</dt>
      <dd>
        <input
          type="datetime-local"
          aria-label="Date and time of the run"
          value={run.made_at.slice(0, 16)}
          onchange={(event) => {
            if (event.currentTarget.value) void book.write({ made_at: event.currentTarget.value })
          }}
        />
      </dd>
    </div>
    <div>
      <dt>Driver</dt>
      <dd>
        <input
          aria-label="Driver"
          value={run.driver}
          onchange={(event) => void book.write({ driver: event.currentTarget.value })}
        />
      </dd>
    </div>
    <div>
      <dt>Tyres</dt>
      <dd>
        <input
          class="short"
          aria-label="Set of tyres"
          value={run.tyres?.set ?? ''}
          onchange={(event) =>
            void book.write({
              tyres: {
                set: event.currentTarget.value,
                laps_before: run.tyres?.laps_before ?? null,
              },
            })}
        />
        after
        <input
          class="tiny"
          inputmode="numeric"
          aria-label="Laps on the tyres before"
          value={run.tyres?.laps_before ?? ''}
          onchange={(event) =>
            void book.write({
              tyres: {
                set: run.tyres?.set ?? '',
                laps_before: number(event.currentTarget.value),
              },
            })}
        /> laps
      </dd>
    </div>
    <div>
      <dt>Fuel</dt>
      <dd>
        <input
          class="tiny"
          inputmode="decimal"
          aria-label="Fuel going out, kilograms"
          value={mass(run.fuel_out_kg)}
          onchange={(event) =>
            void book.write({ fuel_out_kg: massRead(event.currentTarget.value) })}
        />
        {units.unitOf('mass')} out,
        <input
          class="tiny"
          inputmode="decimal"
          aria-label="Fuel coming in, kilograms"
          value={mass(run.fuel_in_kg)}
          onchange={(event) => void book.write({ fuel_in_kg: massRead(event.currentTarget.value) })}
        /> in
      </dd>
    </div>
  </dl>
  <details open={(open.record ?? []).some((one) => one.run !== null)}>
    <summary class="unit cursor-pointer"
      >For the record only: {(open.record ?? []).length} figures</summary
    >
    <dl class="record px-0 py-1 gap-x-5.5 gap-y-0.5 flex flex-wrap">
      {#each open.record ?? [] as one (one.name)}
        <div>
          <dt>{one.name}</dt>
          <dd>
            <input
              class="short"
              aria-label={one.name}
              value={one.run ?? one.setup}
              onchange={(event) => {
                const text = event.currentTarget.value
                void book.write({ record: { [one.name]: text === one.setup ? '' : text } })
              }}
            />
            {#if one.run !== null && one.setup}<span class="unit">{one.setup} in the setup</span
              >{/if}
          </dd>
        </div>
      {/each}
      <div>
        <dt>
          <input
            class="short"
            placeholder="also…"
            aria-label="Name of another figure to record"
            bind:value={naming}
          />
        </dt>
        <dd>
          {#if naming.trim()}
            <input
              class="short"
              aria-label="{naming}, value"
              placeholder="value"
              onchange={(event) => {
                const text = event.currentTarget.value
                if (text) void book.write({ record: { [naming.trim()]: text } })
                naming = ''
              }}
            />
          {/if}
        </dd>
      </div>
    </dl>
  </details>
{/if}

<style>
  ::placeholder {
    color: var(--ink-2);
    font-weight: 500;
  }
  .record div {
    display: flex;
    gap: 6px;
    align-items: baseline;
  }
  dt {
    color: var(--ink-2);
  }
  input,
  select {
    font-family: var(--figures);
    font-weight: 600;
    font-size: 15px;
    background: transparent;
    border-bottom: 1px dotted var(--ink-2);
    width: 130px;
  }
  select {
    width: auto;
    max-width: 260px;
  }
  .short {
    width: 112px;
  }
  .tiny {
    width: 42px;
  }
</style>
