<script lang="ts">
  import type { View } from '../state/view.svelte'
  import type { Drill } from './drill.svelte'

  /** What came of a round: every answer that was not right, and what the errors would cost. */
  let { drill, view }: { drill: Drill; view: View } = $props()

  const right = $derived(drill.answers.filter((one) => one.inside).length)
  const wrong = $derived(
    drill.answers.flatMap((one, n) => {
      const question = drill.questions[n]
      return one.inside || !question ? [] : [{ one, question, n }]
    }),
  )
  $effect(() => {
    view.ownKeys = (event) => {
      if (event.key !== 'Enter' && event.key !== 'Escape') return false
      if (event.key === 'Enter' && (event.target as HTMLElement).closest('button, a')) return false
      drill.stop()
      return true
    }
  })
</script>

<section class="px-0 py-7 mx-auto my-0 gap-3 grid justify-items-start max-w-225 text-[16px]">
  <h2 class="figure text-[32px]" data-testid="round-said">
    {right} of {drill.answers.length} right
  </h2>
  {#if drill.standing}<p class="figure">{drill.standing.said}</p>{/if}
  {#if wrong.length > 0}
    <table class="ruled">
      <tbody>
        {#each wrong as { one, question, n } (n)}
          <tr>
            <th scope="row">{question.name}, {question.label.toLowerCase()}</th>
            <td class:ember={one.dangerous}>{one.verdict}</td>
            <td>answered {one.given_said}; correct: <b class="figure">{one.right_said}</b></td>
            <td>{one.price}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
  <button class="btn btn-primary" onclick={() => drill.stop()}>Another round</button>
</section>
