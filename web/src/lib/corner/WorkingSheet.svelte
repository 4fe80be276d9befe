<script lang="ts">
  import type { WorkingPart } from '../api/client'
  import type { View } from '../state/view.svelte'
  import Formula from './Formula.svelte'

  /** The arithmetic behind a figure: what was put in, line by line to the result, and the law. */
  let { view, workings, trouble }: { view: View; workings: WorkingPart[] | null; trouble: string } =
    $props()

  const shown = $derived(
    workings?.find((one) => one.figure === view.workingOf) ?? workings?.[0] ?? null,
  )
  const units = $derived(view.units)
  const digits = (value: number): string => {
    if (value === 0) return '0'
    const text = Math.abs(value) >= 1e5 ? value.toFixed(0) : value.toPrecision(5)
    return Number(text).toString().replace('-', '−')
  }
  const result = $derived(shown?.steps.find((step) => step.symbol === shown.result))
  /** The result once more as the page says it. */
  const said = $derived.by(() => {
    if (!result || !shown) return ''
    if (result.unit === 'm/s') return `${units.speed(result.value).toFixed(1)} ${units.speedUnit}`
    if (result.unit === 'm' && units.lengthUnit !== 'm')
      return `${units.length(result.value).toFixed(1)} ${units.lengthUnit}`
    return ''
  })
</script>

{#if trouble}<p role="alert" class="trouble">{trouble}</p>{/if}
{#if workings && shown}
  <div
    class="gap-x-5 gap-y-0 grid grid-cols-[150px_minmax(0,1.7fr)_minmax(0,1fr)] narrow:grid-cols-[minmax(0,1fr)]"
  >
    <ul class="figures" aria-label="Figures that can be opened">
      {#each workings as one (one.figure)}
        <li>
          <button
            class="pl-2 cursor-pointer text-[14px] text-left leading-[1.35] w-full"
            aria-pressed={one.figure === shown.figure}
            onclick={() => (view.workingOf = one.figure)}>{one.title}</button
          >
        </li>
      {/each}
    </ul>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="lines overflow-x-auto" role="region" tabindex="0" aria-label="Line by line">
      <p class="limit pb-1 text-[15px] leading-[1.25]">
        {#if said || result}<b class="figure mr-1.5 text-[19px]"
            >{said || `${digits(result?.value ?? 0)} ${result?.unit ?? ''}`}</b
          >{/if}
        {shown.limit}
      </p>
      <table class="ruled" data-testid="working">
        <thead class="sr-only"><tr><th>Line</th><th>Inputs</th><th>Result</th></tr></thead>
        <tbody>
          {#each shown.steps as step (step.symbol)}
            <tr class:now={step.symbol === shown.result}>
              <th scope="row"
                ><span class="mr-1.5 font-figures italic font-semibold text-[16px]"
                  ><Formula text={step.symbol} /></span
                >
                <span class="unit whitespace-normal font-normal">{step.name}</span></th
              >
              <td class="font-figures text-[15px] whitespace-normal"
                ><Formula text={step.formula} />{#if step.put_in !== step.formula}<span
                    class="block text-ink-2 text-[14px] leading-[1.15]">{step.put_in}</span
                  >{/if}</td
              >
              <td class="figure number text-right text-[15px]"
                >{digits(step.value)} <span class="unit">{step.unit}</span></td
              >
            </tr>
          {/each}
        </tbody>
      </table>
      <p class="unit">Source: {shown.source}.</p>
    </div>
    <div>
      <h3 class="figure text-[16px]">Inputs</h3>
      <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
      <div class="overflow-x-auto" role="region" tabindex="0" aria-label="Working">
        <table class="ruled">
          <tbody>
            {#each shown.given as one (one.symbol)}
              <tr>
                <th scope="row"
                  ><span class="mr-1.5 font-figures italic font-semibold text-[16px]"
                    ><Formula text={one.symbol} /></span
                  ></th
                >
                <td>{one.name}</td>
                <td class="figure number text-right text-[15px]">{digits(one.value)}</td>
                <td class="unit">{one.unit}</td>
                <td class="unit">{one.source}</td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
    </div>
  </div>
{:else if !trouble}<p class="unit">Preparing the working…</p>{/if}

<style>
  .figures [aria-pressed='true'] {
    background: var(--wash);
    font-weight: 700;
    box-shadow: inset 3px 0 0 var(--ink);
  }
  .number .unit {
    font-family: var(--labels);
    font-weight: 400;
    font-size: 13px;
    display: inline-block;
    min-width: 30px;
    text-align: left;
  }
</style>
