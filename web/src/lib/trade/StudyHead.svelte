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

<div class="head">
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
  <div class="answer" aria-live="polite" data-testid={testid}>
    {#each said as sentence (sentence)}<p>{sentence}</p>{/each}
  </div>
{/if}

<style>
  .head {
    display: flex;
    flex-wrap: wrap;
    justify-content: space-between;
    gap: 2px 24px;
    padding-top: 6px;
    font-size: 14px;
  }
  .answer {
    font-size: 17px;
    font-family: var(--figures);
    line-height: 1.3;
    padding: 4px 0;
    max-width: 1080px;
    overflow-wrap: anywhere;
  }
</style>
