<script lang="ts" generics="Props extends Record<string, unknown>">
  import type { Component } from 'svelte'

  /** A part of the page that is read when it is first shown, or a while before. */
  let { load, props }: { load: () => Promise<{ default: Component<Props> }>; props: Props } =
    $props()

  const part = $derived(load())
</script>

{#await part then { default: Part }}
  <Part {...props} />
{:catch}
  <p role="alert" class="trouble">
    This part of the page could not be loaded. Reload once the application is running.
  </p>
{/await}
