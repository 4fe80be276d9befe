<script lang="ts">
  import { untrack } from 'svelte'
  import { client, type BeforeTheCar, type Unsure } from '../api/client'
  import { Loaded } from '../state/loaded.svelte'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'
  import type { Drill } from './drill.svelte'

  /** Five minutes before the car: what sits worst, what is dangerous, and a sheet to take along. */
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

{#if before.trouble}<p role="alert" class="trouble">{before.trouble}</p>{/if}
{#if before.value}
  <section class="first">
    <h2 class="figure">Five minutes before the car</h2>
    <ol data-testid="before-corners">
      {#each before.value.corners as corner (corner.corner)}
        <li>
          <span class="figure">{corner.corner + 1} {corner.name}</span>
          <span
            >{#if corner.weak}sits worst{corner.hazards.length ? ', ' : ''}{/if}<span class="ember"
              >{corner.hazards.join(', ')}</span
            ></span
          >
          <span class="place">{corner.sentence}</span>
        </li>
      {/each}
    </ol>
    <div class="cautions">
      {#each before.value.cautions as caution (caution)}<p>{caution}</p>{/each}
    </div>
    <p class="ways">
      <button class="btn btn-primary" onclick={goOver}
        >Go over them: {before.value.questions.length} questions</button
      >
      <button class="btn" onclick={() => (view.drillTab = 'run')}>Then one lap in real time</button>
    </p>
  </section>
{/if}
{#if unsure.value}
  <section class="unsure" data-testid="unsure">
    <h2 class="figure">Still unsure</h2>
    <p class="unit">
      {unsure.value.circuit}, {unsure.value.car}{unsure.value.driver
        ? `, ${unsure.value.driver}`
        : ''}. {unsure.value.said}
    </p>
    {#if unsure.value.corners.length === 0}
      <p>Nothing: every question was answered right last.</p>
    {:else}
      <table class="ruled">
        <thead>
          <tr
            ><th scope="col">Corner</th><th scope="col">What is right</th><th scope="col">Unsure</th
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
              <td class="place">{corner.sentence}</td>
              <td>{corner.unsure.join(', ')}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
    <p class="paper">{unsure.value.cautions.join(' ')}</p>
    <p class="out">
      <button class="btn btn-sm btn-primary" onclick={() => print()}>Print</button>
      {#each FORMS as form (form)}
        <a class="link" href={file(form)} download="unsure.{form}"
          >{form === 'md' ? 'Markdown' : form.toUpperCase()}</a
        >
      {/each}
    </p>
  </section>
{/if}

<style>
  .first,
  .unsure {
    display: grid;
    gap: 8px;
    padding: 10px 0;
    font-size: 15px;
    justify-items: start;
  }
  h2 {
    font-size: 22px;
  }
  li {
    display: grid;
    grid-template-columns: 160px 150px 1fr;
    gap: 2px 14px;
    padding: 3px 0;
    border-top: 1px solid var(--hair);
    align-items: baseline;
  }
  ol {
    width: 100%;
  }
  li .figure {
    font-size: 17px;
  }
  .place {
    font-size: 16px;
  }
  .cautions {
    border-left: 3px solid var(--ember);
    padding-left: 12px;
    max-width: 760px;
  }
  .ways,
  .out {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 14px;
    align-items: baseline;
  }
  .paper {
    display: none;
  }
  .trouble {
    padding-top: 6px;
  }
  @media (max-width: 900px) {
    li {
      grid-template-columns: 1fr;
    }
  }
  @media print {
    .first,
    .out {
      display: none;
    }
    .paper {
      display: block;
      font-size: 12px;
    }
  }
</style>
