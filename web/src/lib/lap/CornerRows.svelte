<script lang="ts">
  import type { Comparison, Result } from '../api/client'
  import type { Workbench } from '../state/workbench.svelte'
  import type { View } from '../state/view.svelte'
  import Arrow from '../parts/Arrow.svelte'
  import Disc from '../parts/Disc.svelte'
  import RadiusFigure from './RadiusFigure.svelte'
  import { timeDifference, whole } from '../parts/format'

  /** The corners as rows, for a narrow screen. */
  let {
    bench,
    view,
    result,
    comparison,
  }: { bench: Workbench; view: View; result: Result; comparison: Comparison | null } = $props()

  const units = $derived(view.units)
  const speed = (ms: number): string => whole(units.speed(ms))
  const length = (m: number): string => whole(units.length(m))
  const radii = $derived(bench.assumptions?.radii_m ?? [])
</script>

<ol>
  {#each result.corners as corner, index (index)}
    {@const before = comparison?.corners?.[index] ?? null}
    {@const radius = radii[index]}
    <li class="px-0 py-1.5 border-t border-t-rule" class:chosen={view.corner === index}>
      <button
        class="head gap-1.75 flex items-baseline w-full text-left text-[18px]"
        onclick={() => view.select(result, index)}
      >
        <Disc direction={corner.direction} angleDeg={corner.angle_deg} />
        <span class="figure">{index + 1}</span> <span class="place">{corner.name}</span>
        <span class="figure ml-auto text-[24px]">{speed(corner.min_speed_ms)}</span>
        <span class="unit">{units.speedUnit}</span>
      </button>
      <div class="facts gap-x-3.5 gap-y-0.5 flex flex-wrap">
        <span class="ember">
          {#if corner.action === 'brake'}
            Brake
            {#if corner.board_call}
              <b class="figure">{length(corner.board_call.metres)}</b>
              <i class="place">{corner.board_call.side} {corner.board_call.label}</i>
            {:else}
              <b class="figure">{length(corner.brake_start_to_corner_m ?? 0)}</b>
              {units.lengthUnit} before
            {/if}
            for <b class="figure">{length(corner.braking_distance_m ?? 0)}</b>
            {units.lengthUnit}
          {:else}
            <i class="place">{bench.words?.corners[index]?.action ?? ''}</i>
          {/if}
        </span>
        <span>
          gear <b class="figure">{corner.gear_before}</b>
          {#if corner.gear !== corner.gear_before}<Arrow /> <b class="figure">{corner.gear}</b>{/if}
        </span>
        <span>exit <b class="figure">{speed(corner.exit_speed_ms)}</b></span>
        {#if radius !== undefined && radius !== null}
          <span
            >radius <RadiusFigure
              {bench}
              {view}
              corner={corner.name}
              radius_m={radius}
              size="16px"
            />
            {units.lengthUnit}</span
          >
        {/if}
        {#if before}
          <span class="unit"
            >{timeDifference(before.time_s)} s; {[
              before.brake_moved,
              before.speed_moved,
              before.gear_moved,
            ]
              .filter(Boolean)
              .join(', ')}</span
          >
        {/if}
      </div>
    </li>
  {/each}
</ol>

<style>
  .chosen {
    background: var(--wash);
  }
  .facts .figure,
  .facts .place {
    font-size: 16px;
  }
</style>
