<script lang="ts">
  /** A formula with its indices set low: what stands after an underscore. */
  let { text }: { text: string } = $props()

  const parts = $derived(
    [...text.matchAll(/([^_]*?)(?:_([A-Za-z0-9]+)|$)/g)]
      .filter((match) => match[0] !== '')
      .map((match) => ({ plain: match[1] ?? '', low: match[2] ?? '' })),
  )
</script>

<span
  >{#each parts as part, index (index)}{part.plain}{#if part.low}<sub>{part.low}</sub
      >{/if}{/each}</span
>

<style>
  sub {
    font-size: 0.72em;
    vertical-align: -0.28em;
    line-height: 0;
  }
</style>
