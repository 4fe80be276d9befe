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

<p class="bar">
  {#if job?.state === 'running'}
    <progress max={job.of} value={job.done} aria-label="Laps driven"></progress>
    <span class="unit" data-testid="study-progress">{job.done} of {job.of} laps</span>
    <button class="link" onclick={stop}>Stop</button>
  {:else}
    {#if stale}<span class="stale" role="status">The plan has changed since this was driven.</span
      >{/if}
    <button class="link" onclick={again}>{job ? 'Drive it again' : 'Drive it'}</button>
    {#if job?.state === 'cancelled'}<span class="unit">stopped after {job.done} laps</span>{/if}
  {/if}
  {#if job}
    {#each files as kind (kind)}
      <a class="link" href="/api/studies/{job.id}/study.{kind}" download>{kind.toUpperCase()}</a>
    {/each}
  {/if}
</p>

<style>
  .bar {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 4px 14px;
    min-height: 22px;
  }
  progress {
    width: 160px;
    height: 8px;
    appearance: none;
    border: 1px solid var(--ink);
  }
  progress::-webkit-progress-bar {
    background: var(--paper);
  }
  progress::-webkit-progress-value {
    background: var(--ink);
  }
  progress::-moz-progress-bar {
    background: var(--ink);
  }
  .stale {
    font-weight: 600;
  }
  @media print {
    .bar {
      display: none;
    }
  }
</style>
