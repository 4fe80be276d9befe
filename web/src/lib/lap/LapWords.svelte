<script lang="ts">
  import type { LapWords } from '../api/client'

  /** The curve told in words, one sentence a corner. */
  let { words }: { words: LapWords } = $props()
</script>

<p class="px-0 pt-1 pb-2 text-[15px]">{words.summary}</p>
<ol>
  {#each words.corners as corner, index (index)}
    <li class="px-0 py-0.75 border-t border-t-hair">{corner.sentence}</li>
  {/each}
</ol>

<style>
  ol {
    list-style: decimal inside;
    font-size: 15px;
  }
</style>
