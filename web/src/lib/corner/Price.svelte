<script lang="ts">
  import { timeDifference } from '../parts/format'

  /** What something costs (or wins) in the lap, in words; nothing where it rounds to nothing. */
  let { seconds }: { seconds: number | null } = $props()
</script>

{#if seconds === null}<span class="unit">no lap</span>
{:else if Math.abs(seconds) < 0.0005}<span class="unit">the same</span>
{:else}<span class="figure text-[16px]">{timeDifference(seconds).replace(/^[+−]/, '')}</span>
  <span class="unit">{seconds > 0 ? 'lost' : 'gained'}</span>{/if}
