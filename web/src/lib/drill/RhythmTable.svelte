<script lang="ts">
  import type { DrillRhythm } from '../api/client'

  /** Your presses, corner by corner, against where the plan does it. */
  let { rhythm }: { rhythm: DrillRhythm } = $props()
  const corners = $derived([...new Set(rhythm.beats.map((beat) => beat.corner))])
</script>

<p class="figure pt-3 text-[19px]" data-testid="rhythm-said">
  {rhythm.said}
</p>
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div class="overflow-x-auto" role="region" tabindex="0" aria-label="Your presses">
  <table class="ruled" data-testid="rhythm-table">
    <tbody>
      {#each corners as corner (corner)}
        {@const beats = rhythm.beats.filter((beat) => beat.corner === corner)}
        <tr>
          <th scope="row">{corner + 1} <span class="figure">{beats[0]?.name}</span></th>
          <td>
            {#each beats as beat, n (n)}
              <span class="pr-4.5 inline-block" class:ember={beat.dangerous}
                ><span aria-hidden="true">{beat.inside ? '✓' : beat.dangerous ? '!' : '✕'}</span>
                {beat.label}: {beat.said}{beat.dangerous && beat.price
                  ? ` (${beat.price})`
                  : ''}</span
              >
            {/each}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
</div>
