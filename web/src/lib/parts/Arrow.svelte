<script lang="ts">
  /** An arrow to the right; the page's fonts have none. */
  let { label = 'to' }: { label?: string } = $props()
</script>

<svg width="15" height="9" viewBox="0 0 15 9" role="img" aria-label={label} class="inline-block">
  <path
    d="M1 4.500h12M9.500 1l3.700 3.500L9.500 8"
    fill="none"
    stroke="currentColor"
    stroke-width="1.500"
  />
</svg>
