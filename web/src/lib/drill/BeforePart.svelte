<script lang="ts">
  import { untrack } from 'svelte'
  import { client, type BeforeTheCar, type Unsure } from '../api/client'
  import { Loaded } from '../state/loaded.svelte'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Drill } from './drill.svelte'

  /** Five minutes before you drive: what sits worst, what is dangerous, and a sheet to take along. */
  let { bench, view, drill }: { bench: Workbench; view: View; drill: Drill } = $props()

  const before = new Loaded<BeforeTheCar>()
  const unsure = new Loaded<Unsure>()
  const FORMS = ['md', 'csv', 'json']

  $effect(() => {
    const id = bench.open?.id
    const standing = drill.standing
    const query = { lap: drill.lap, driver: drill.driver }
    untrack(() => {
      if (id === undefined || !standing) return
      const key = JSON.stringify([id, query, view.system, standing])
      const params = { path: { plan_id: id }, query }
      void before.load(key, (signal) =>
        client.GET('/api/plans/{plan_id}/drill/before', {
          params: { ...params, query: { ...query, seed: Math.floor(Math.random() * 1e9) } },
          signal,
        }),
      )
      void unsure.load(key, (signal) =>
        client.GET('/api/plans/{plan_id}/drill/unsure', { params, signal }),
      )
    })
  })
  $effect(() => {
    view.ownKeys = null
  })
  function goOver(): void {
    if (!before.value) return
    drill.ask(before.value.questions)
    view.drillTab = 'recall'
  }
  const file = (form: string): string =>
    `/api/plans/${String(bench.open?.id ?? 0)}/drill/unsure.${form}?units=${view.system}&lap=${drill.lap}&driver=${encodeURIComponent(drill.driver)}`
</script>

{#if before.trouble}<p role="alert" class="trouble pt-1.5">{before.trouble}</p>{/if}
{#if before.value}
  <section class="first px-0 py-2.5 gap-2 grid text-[15px] justify-items-start print:hidden">
    <h2 class="figure text-[22px]">Five minutes before you drive</h2>
    <ol class="w-full" data-testid="before-corners">
      {#each before.value.corners as corner (corner.corner)}
        <li
          class="px-0 py-0.75 gap-x-3.5 gap-y-0.5 border-t border-t-hair grid grid-cols-[160px_150px_1fr] items-baseline narrow:grid-cols-[1fr]"
        >
          <span class="figure text-[17px]">{corner.corner + 1} {corner.name}</span>
          <span
            >{#if corner.dangerous}<b class="ember">last answer on the dangerous side</b
              >{corner.weak || corner.hazards.length ? ', ' : ''}{/if}{#if corner.weak}least well
              known{corner.hazards.length ? ', ' : ''}{/if}<span class="ember"
              >{corner.hazards.join(', ')}</span
            ></span
          >
          <span class="place text-[16px]">{corner.sentence}</span>
        </li>
      {/each}
    </ol>
    <div class="pl-3 border-l-3 border-l-ember max-w-190">
      {#each before.value.cautions as caution (caution)}<p>{caution}</p>{/each}
    </div>
    <p class="gap-x-3.5 gap-y-2 flex flex-wrap items-baseline">
      <button class="btn btn-primary" onclick={goOver}
        >Practise them: {before.value.questions.length} questions</button
      >
      <button class="btn" onclick={() => (view.drillTab = 'run')}>Then one lap in real time</button>
    </p>
  </section>
{/if}
{#if unsure.value}
  <section class="px-0 py-2.5 gap-2 grid text-[15px] justify-items-start" data-testid="unsure">
    <h2 class="figure text-[22px]">Still unsure</h2>
    <p class="unit">
      {unsure.value.circuit}, {unsure.value.car}{unsure.value.driver
        ? `, ${unsure.value.driver}`
        : ''}. {unsure.value.said}
    </p>
    {#if unsure.value.corners.length === 0}
      <p>Nothing: every last answer was right.</p>
    {:else}
      <table class="ruled">
        <thead>
          <tr
            ><th scope="col">Corner</th><th scope="col">Correct answer</th><th scope="col"
              >Unsure</th
            ></tr
          >
        </thead>
        <tbody>
          {#each unsure.value.corners as corner (corner.corner)}
            <tr>
              <th scope="row"
                >{corner.corner + 1} <span class="figure">{corner.name}</span>
                {#if corner.hazards.length > 0}<span class="ember">{corner.hazards.join(', ')}</span
                  >{/if}</th
              >
              <td class="place text-[16px]">{corner.sentence}</td>
              <td>{corner.unsure.join(', ')}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
    <p class="hidden print:block print:text-[12px]">{unsure.value.cautions.join(' ')}</p>
    <p class="gap-x-3.5 gap-y-2 flex flex-wrap items-baseline print:hidden">
      <button class="btn btn-sm btn-primary" onclick={() => print()}>Print</button>
      {#each FORMS as form (form)}
        <a class="link" href={file(form)} download="unsure.{form}"
          >{form === 'md' ? 'Markdown' : form.toUpperCase()}</a
        >
      {/each}
    </p>
  </section>
{/if}
