<script lang="ts">
  import { onMount } from 'svelte'
  import LapPage from './lib/lap/LapPage.svelte'
  import PlanStrip from './lib/lap/PlanStrip.svelte'
  import KeySheet from './lib/parts/KeySheet.svelte'
  import Legend from './lib/parts/Legend.svelte'
  import { View } from './lib/state/view.svelte'
  import { Workbench } from './lib/state/workbench.svelte'

  const bench = new Workbench()
  const view = new View()
  let fontsReady = $state(false)
  let digits = ''
  let digitsAt = 0

  onMount(() => {
    view.applyTheme()
    void bench.start()
    void document.fonts.ready.then(() => (fontsReady = true))
  })

  function focusFigure(label: string): void {
    document.querySelector<HTMLInputElement>(`input[aria-label^="${label}"]`)?.focus()
  }

  function keydown(event: KeyboardEvent): void {
    const target = event.target as HTMLElement
    if (event.ctrlKey || event.metaKey || event.altKey) return
    if (target.closest('input, select, dialog')) return
    const result = bench.result
    if (event.key === '?') view.keysOpen = true
    else if (event.key === 'n' || event.key === 'N') view.toggleTheme()
    else if (!result) return
    else if (event.key === ']') view.select(result, (view.corner ?? -1) + 1)
    else if (event.key === '[') view.select(result, (view.corner ?? 0) - 1)
    else if (event.key === 'ArrowRight') view.move(result, event.shiftKey ? 1 : 10)
    else if (event.key === 'ArrowLeft') view.move(result, event.shiftKey ? -1 : -10)
    else if (event.key === 'Escape') {
      view.corner = null
      view.cursorM = null
    } else if (event.key === 'g' || event.key === 'G') focusFigure('Grip')
    else if ((event.key === 'r' || event.key === 'R') && view.corner !== null)
      focusFigure(`Radius of ${result.corners[view.corner]?.name ?? ''}`)
    else if (/^[0-9]$/.test(event.key)) {
      // Two digits within a moment are one number.
      const count = result.corners.length
      const together = event.timeStamp - digitsAt < 600 && Number(digits + event.key) <= count
      digits = together ? digits + event.key : event.key
      digitsAt = event.timeStamp
      const number = Number(digits)
      if (number >= 1 && number <= result.corners.length) view.select(result, number - 1)
    } else return
    event.preventDefault()
  }
</script>

<svelte:window onkeydown={keydown} />

<div class="sheet">
  <header>
    <div class="brand">
      <svg width="34" height="26" viewBox="0 0 34 26" aria-hidden="true">
        <g fill="none" stroke="var(--ink)" stroke-width="2">
          <path d="M1 15c5-6 10-6 16 0s11 6 16 0" />
          <path d="M1 22c5-5 10-5 16 0s11 5 16 0" stroke="var(--cool)" />
          <path d="M17 1v8M13.500 3l7 4M20.500 3l-7 4" stroke-width="1.500" />
        </g>
      </svg>
      <h1 class="figure">Neapfrost</h1>
    </div>
    <nav aria-label="Views"><a href="/" aria-current="page">Lap</a></nav>
    <div class="tools">
      <button onclick={() => view.toggleTheme()}>{view.night ? 'Day' : 'Night'}</button>
      <button onclick={() => (view.keysOpen = true)}>Keys <kbd class="kbd kbd-sm">?</kbd></button>
    </div>
  </header>
  <main>
    <PlanStrip {bench} />
    {#if bench.trouble}<p role="alert" class="trouble">{bench.trouble}</p>{/if}
    {#if bench.result}
      <LapPage {bench} {view} result={bench.result} {fontsReady} />
    {:else if !bench.trouble}
      <p class="unit wait">The lap is being predicted…</p>
    {/if}
  </main>
  <Legend />
</div>
<KeySheet {view} />

<style>
  .sheet {
    margin: 0 auto;
    padding: 0 24px;
    max-width: 1800px;
    min-height: 100vh;
    display: flex;
    flex-direction: column;
  }
  main {
    flex: 1;
  }
  header {
    display: flex;
    align-items: stretch;
    height: 46px;
    border-bottom: 3px double var(--ink);
  }
  .brand {
    display: flex;
    align-items: center;
    gap: 9px;
    width: 218px;
  }
  h1 {
    font-size: 24px;
  }
  nav {
    display: flex;
    align-items: stretch;
  }
  nav a {
    display: flex;
    align-items: center;
    padding: 0 18px;
    font-size: 15px;
    font-weight: 600;
    margin-top: 8px;
  }
  nav a[aria-current='page'] {
    background: var(--ink);
    color: var(--paper);
  }
  .tools {
    margin-left: auto;
    display: flex;
    gap: 18px;
    font-size: 14px;
    font-weight: 500;
  }
  .tools button {
    cursor: pointer;
  }
  .trouble {
    color: var(--ember);
    padding: 12px 0;
    font-size: 16px;
  }
  .wait {
    padding: 60px 0;
  }
  @media (max-width: 700px) {
    .sheet {
      padding: 0 14px;
    }
    .brand {
      width: auto;
      margin-right: 14px;
    }
    h1 {
      font-size: 20px;
    }
  }
</style>
