<script lang="ts">
  import type { LapWords } from '../api/client'

  /** The curve told in words, one sentence a corner. */
  let { words }: { words: LapWords } = $props()
</script>

<p>{words.summary}</p>
<ol>
  {#each words.corners as corner, index (index)}
    <li>{corner.sentence}</li>
  {/each}
</ol>

<style>
  ol {
    list-style: decimal inside;
    font-size: 15px;
  }
  li {
    border-top: 1px solid var(--hair);
    padding: 3px 0;
  }
  p {
    padding: 4px 0 8px;
    font-size: 15px;
  }
</style>
