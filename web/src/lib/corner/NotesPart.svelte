<script lang="ts">
  import type { Corner, CornerNote } from '../api/client'
  import type { Workbench } from '../state/workbench.svelte'

  /** What one knows of the place: where to look, kerb and limit, what lies beside it. */
  let { bench, corner, note }: { bench: Workbench; corner: Corner; note: CornerNote | null } =
    $props()

  const EMPTY = { look_at: '', kerb: '', limit: '', blind: false, wall: false, no_run_off: false }
  const WORDS = [
    { field: 'look_at', label: 'Look at', hint: 'where to look' },
    { field: 'kerb', label: 'Kerb', hint: 'take, straddle, keep off' },
    { field: 'limit', label: 'Limit', hint: 'what counts as a track-limits breach' },
  ] as const
  const HAZARDS = [
    { field: 'blind', label: 'blind: a crest or a wall hides the apex' },
    { field: 'wall', label: 'a wall close by' },
    { field: 'no_run_off', label: 'no run-off' },
  ] as const
  let refused = $state('')
  async function keep(update: Partial<CornerNote>): Promise<void> {
    const before: CornerNote = note ?? { ...EMPTY, corner: corner.name }
    refused = (await bench.editPlan({ note: { ...before, ...update, corner: corner.name } })) ?? ''
  }
</script>

<div class="max-w-190">
  {#each WORDS as one (one.field)}
    <label class="px-0 py-0.75 gap-3 flex items-baseline text-[15px]">
      <span class="w-17.5 text-ink-2">{one.label}</span>
      {#key `${corner.name}/${note?.[one.field] ?? ''}`}
        <input
          type="text"
          maxlength="200"
          placeholder={one.hint}
          value={note?.[one.field] ?? ''}
          onchange={(event) => void keep({ [one.field]: event.currentTarget.value.trim() })}
        />
      {/key}
    </label>
  {/each}
  <fieldset class="px-0 py-2">
    <legend class="font-semibold text-[14px]">More margin on the first laps</legend>
    {#each HAZARDS as one (one.field)}
      <label class="px-0 py-0.75 gap-2 flex text-[15px] items-center">
        <input
          type="checkbox"
          class="checkbox checkbox-sm"
          checked={note?.[one.field] ?? false}
          onchange={(event) => void keep({ [one.field]: event.currentTarget.checked })}
        />
        {one.label}
      </label>
    {/each}
  </fieldset>
  {#if refused}<p role="alert" class="trouble">{refused}</p>{/if}
  <p class="unit">
    Notes belong to the circuit and appear in every plan on it, on the sheet and the brief. Boards
    and references are in the Circuit view.
  </p>
</div>

<style>
  input[type='text'] {
    flex: 1;
    font-family: var(--figures);
    font-size: 17px;
    border-bottom: 1px dotted var(--ink-2);
    background: transparent;
  }
  input::placeholder {
    color: var(--ink-2);
    font-style: italic;
  }
</style>
