<script lang="ts">
  import type { Snippet } from 'svelte'
  import type { StudyJob } from '../api/client'
  import StudyBar from './StudyBar.svelte'
  import type { Kind, Studies } from './studies.svelte'

  /** What a study is asked, how it stands, and the sentences that answer it. */
  let {
    studies,
    kind,
    again,
    said,
    testid,
    note,
    files,
    children,
  }: {
    studies: Studies
    kind: Kind
    again: () => void
    said: string[] | undefined
    testid: string
    /** A word on what is asked. */
    note?: string
    files?: string[]
    children: Snippet
  } = $props()
  const job = $derived<StudyJob | undefined>(studies.jobs[kind])
</script>

<div class="head pt-1.5 gap-x-6 gap-y-0.5 flex flex-wrap justify-between text-[14px]">
  <div>{@render children()}</div>
  <StudyBar
    {job}
    stale={studies.stale(kind)}
    {again}
    stop={() => void studies.stop(kind)}
    {files}
  />
</div>
{#if note}<p class="unit">{note}.</p>{/if}
{#if said}
  <div
    class="px-0 py-1 text-[17px] font-figures leading-[1.3] max-w-270 wrap-anywhere"
    aria-live="polite"
    data-testid={testid}
  >
    {#each said as sentence, n (n)}<p>{sentence}</p>{/each}
  </div>
{/if}
