<script lang="ts">
  import type { DrillStanding } from '../api/client'
  import { plain } from '../parts/format'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Drill } from './drill.svelte'

  /** How the lap sits: a line for each corner, a column for each kind of question, and the days. */
  let { bench, view, drill }: { bench: Workbench; view: View; drill: Drill } = $props()

  type State = DrillStanding['corners'][number]['cards'][number]['state']
  const MARKS: Record<State, string> = {
    new: '·',
    overtaken: '↻',
    wrong: '✕',
    due: '◐',
    known: '●',
  }
  const standing = $derived(drill.standing)
  const present = $derived(
    new Set(standing?.corners.flatMap((corner) => corner.cards.map((card) => card.state))),
  )
  const states = $derived((standing?.states ?? []).filter((one) => present.has(one.value as State)))
  const others = $derived((standing?.drivers ?? []).filter((name) => name !== drill.driver))
  const cardOf = (
    corner: DrillStanding['corners'][number],
    kind: string,
  ): DrillStanding['corners'][number]['cards'][number] | undefined =>
    corner.cards.find((card) => card.kind === kind)
  const file = (form: string): string =>
    `/api/plans/${String(bench.open?.id ?? 0)}/drill/answers.${form}?driver=${encodeURIComponent(drill.driver)}`

  function about(corner: number): void {
    view.drillTab = 'recall'
    void drill.begin(corner)
  }
  $effect(() => {
    view.ownKeys = null
  })
</script>

{#if standing}
  <p class="figure pt-2 text-[20px]" data-testid="sits-said">{standing.said}</p>
  <p class="unit text-[14px]">
    {#each states as one, n (one.value)}{n ? ', ' : ''}{MARKS[one.value as State]}
      {one.label}{/each}
  </p>
  {#if others.length > 0}
    <p class="gap-x-4 gap-y-0.5 flex flex-wrap text-[14px]">
      {#each others as name (name)}
        <button class="link" onclick={() => void drill.be(name)}
          >{name === '' ? 'Answers without a name' : `Answers of ${name}`}</button
        >
      {/each}
    </p>
  {/if}
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div
    class="pt-1.5 overflow-x-auto"
    role="region"
    tabindex="0"
    aria-label="How well each corner is known"
  >
    <table class="ruled" data-testid="sits-table">
      <thead>
        <tr>
          <th scope="col">Corner</th>
          <th scope="col" class="number">Known %</th>
          {#each standing.kinds as kind (kind.kind)}<th scope="col">{kind.label}</th>{/each}
          <td></td>
        </tr>
      </thead>
      <tbody>
        {#each standing.corners as corner (corner.corner)}
          <tr class:now={corner.weak}>
            <th scope="row"
              >{corner.corner + 1}
              <span class="figure">{corner.name}</span>
              {#if corner.weak}<span class="unit text-[14px]">weak</span>{/if}
              {#if corner.hazards.length > 0}<span class="ember">{corner.hazards.join(', ')}</span
                >{/if}
            </th>
            <td class="figure number">{plain(corner.hold_pct, 0)}</td>
            {#each standing.kinds as kind (kind.kind)}
              {@const card = cardOf(corner, kind.kind)}
              <td class="text-center text-[17px]"
                >{#if card}<span title={card.said} role="img" aria-label="{kind.label}: {card.said}"
                    >{MARKS[card.state]}</span
                  >{/if}</td
              >
            {/each}
            <td><button class="link" onclick={() => about(corner.corner)}>ask</button></td>
          </tr>
        {/each}
        <tr class="sum">
          <th scope="row">Last answer right</th>
          <td></td>
          {#each standing.kinds as kind (kind.kind)}
            <td class="figure text-center text-[15px] whitespace-nowrap"
              >{kind.right} of {kind.asked}</td
            >
          {/each}
          <td></td>
        </tr>
      </tbody>
    </table>
  </div>
  <h2 class="figure pt-3 text-[17px]">Day by day</h2>
  {#if standing.days.length > 0}
    <table class="ruled max-w-155" data-testid="drill-days">
      <thead>
        <tr>
          <th scope="col">Day</th>
          <th scope="col" class="number">Answers</th>
          <th scope="col" class="number">Right</th>
          <th scope="col" class="number">On the dangerous side</th>
          <th scope="col" class="number">Errors cost s</th>
        </tr>
      </thead>
      <tbody>
        {#each standing.days as day (day.day)}
          <tr>
            <th scope="row">{day.day}</th>
            <td class="figure number">{day.answers}</td>
            <td class="figure number">{plain((100 * day.inside) / day.answers, 0)} %</td>
            <td class="figure number">{day.dangerous}</td>
            <td class="figure number">{day.cost_s.toFixed(2)}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    <p class="pt-2 text-[14px]">
      Every answer: {#each ['csv', 'json'] as form (form)}<a
          class="link"
          href={file(form)}
          download="answers.{form}">{form.toUpperCase()}</a
        >&nbsp;{/each}
    </p>
  {:else}
    <p class="unit px-0 py-3.5 text-[15px]">
      No answers {drill.driver ? `by ${drill.driver}` : 'without a name'} yet. Start with Recall.
    </p>
  {/if}
{:else if !drill.trouble}
  <p class="unit px-0 py-3.5 text-[15px]">Calculating the plan’s bands…</p>
{/if}
