<script lang="ts">
  /** Says that a press opens something to choose from. */
</script>

<svg width="9" height="6" viewBox="0 0 9 6" aria-hidden="true" class="inline-block flex-none"
  ><path d="M1 1l3.500 3.500L8 1" fill="none" stroke="currentColor" stroke-width="1.500" /></svg
>
