<script lang="ts">
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'

  /** The corner table out of the page: clipboard, CSV, print. */
  let { bench, view }: { bench: Workbench; view: View } = $props()

  const address = $derived(
    `/api/plans/${bench.open?.id ?? 0}/corners?units=${view.system}&separator=`,
  )

  async function copy(): Promise<void> {
    await bench.settle()
    try {
      const reply = await fetch(`${address}tab`)
      if (!reply.ok) throw new Error()
      await navigator.clipboard.writeText(await reply.text())
      bench.say('Corner table copied, tab-separated.')
    } catch {
      bench.say('The browser blocked the clipboard; download the CSV instead.')
    }
  }
</script>

<div class="gap-x-2.75 gap-y-0 flex flex-wrap">
  <button class="link" onclick={() => void copy()}>Copy</button>
  <a class="link" href="{address}comma" download="{bench.open?.name ?? 'corners'}.csv">CSV</a>
  <a
    class="link"
    href="/api/plans/{bench.open?.id ?? 0}/result"
    download="{bench.open?.name ?? 'lap'}.result.json">Result</a
  >
  <button class="link" onclick={() => print()}>Print</button>
  <button class="link" onclick={() => (view.sheet = 'words')}
    >In words<span class="sr-only">: the lap described corner by corner</span></button
  >
  <button class="link" onclick={() => (view.sheet = 'first')}>First laps</button>
  {#if bench.result}
    {@const result = bench.result}
    <button class="link" onclick={() => view.openCorner(result)}
      >Corner sheet<span class="sr-only"> of the chosen corner</span></button
    >
  {/if}
</div>
