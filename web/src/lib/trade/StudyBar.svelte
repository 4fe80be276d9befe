<script lang="ts">
  import type { StudyJob } from '../api/client'

  /** How a study stands: its progress, and how to end it, drive it again, or take it along. */
  let {
    job,
    stale,
    again,
    stop,
    files = ['csv', 'svg'],
  }: {
    job: StudyJob | undefined
    stale: boolean
    again: () => void
    stop: () => void
    /** What it can be taken along as. */
    files?: string[]
  } = $props()
</script>

<p class="gap-x-3.5 gap-y-1 flex flex-wrap items-baseline min-h-5.5 print:hidden">
  {#if job?.state === 'running'}
    <progress
      class="border border-ink w-40 h-2 [appearance:none]"
      max={job.of}
      value={job.done}
      aria-label="Laps calculated"
    ></progress>
    <span class="unit" data-testid="study-progress">{job.done} of {job.of} laps</span>
    <button class="link" onclick={stop}>Stop</button>
  {:else}
    {#if stale}<span class="font-semibold" role="status"
        >The plan has changed since this was calculated.</span
      >{/if}
    <button class="link" onclick={again}>{job ? 'Recalculate' : 'Calculate'}</button>
    {#if job?.state === 'cancelled'}<span class="unit">stopped after {job.done} laps</span>{/if}
  {/if}
  {#if job}
    {#each files as kind (kind)}
      <a class="link" href="/api/studies/{job.id}/study.{kind}" download>{kind.toUpperCase()}</a>
    {/each}
  {/if}
</p>

<style>
  progress::-webkit-progress-bar {
    background: var(--paper);
  }
  progress::-webkit-progress-value {
    background: var(--ink);
  }
  progress::-moz-progress-bar {
    background: var(--ink);
  }
</style>
