<script lang="ts">
  import type { CornerCalls } from '../api/client'
  import type { View } from '../state/view.svelte'
  import { ticks } from '../curve/geometry'
  import { whole } from '../parts/format'

  /** Pedal effort of every school along the zone, the slowest point at the right. */
  let {
    braking,
    view,
    schools,
    width,
    height,
  }: {
    braking: NonNullable<CornerCalls['braking']>
    view: View
    schools: Record<string, string>
    width: number
    height: number
  } = $props()

  const [LEFT, RIGHT, TOP, FOOT] = [36, 130, 6, 18]
  const units = $derived(view.units)
  const DASHES: Record<string, string | undefined> = {
    planned: undefined,
    straight: '7 3',
    trail: '2 2',
    gentle: '1 3',
  }
  const longest = $derived(Math.max(...braking.options.map((one) => one.braking_distance_m), 1))
  const x = (toEnd: number): number => width - RIGHT - (toEnd / longest) * (width - LEFT - RIGHT)
  const y = (percent: number): number =>
    height - FOOT - (Math.min(percent, 100) / 100) * (height - FOOT - TOP)
  const lines = $derived(
    braking.options.map((option) => ({
      school: option.school,
      d: `M${x(option.braking_distance_m).toFixed(1)} ${y(0)}L${option.effort
        .map(
          (point) =>
            `${x(option.braking_distance_m - point.at_m).toFixed(1)} ${y(point.effort_pct).toFixed(1)}`,
        )
        .join('L')}L${x(0)} ${y(0)}`,
    })),
  )
  const marks = $derived(ticks(0, units.length(longest), longest > 90 ? 50 : 20))
</script>

<svg
  class="block max-w-full"
  {width}
  {height}
  viewBox="0 0 {width} {height}"
  role="img"
  aria-label="Pedal effort along the braking: {braking.options
    .map((one) => `${schools[one.school]} peaks at ${whole(one.peak_effort_pct)} percent`)
    .join('; ')}"
>
  {#each [0, 50, 100] as percent (percent)}
    <path d="M{LEFT} {y(percent)}H{width - RIGHT}" stroke="var(--hair)" />
    <text x={LEFT - 5} y={y(percent) + 4} text-anchor="end">{percent} %</text>
  {/each}
  {#each marks as mark (mark)}
    <text x={x(units.read(mark, 'length'))} y={height - 3} text-anchor="middle">{mark}</text>
  {/each}
  {#each lines as line, index (line.school)}
    <path
      d={line.d}
      fill="none"
      stroke={line.school === 'planned' ? 'var(--ember)' : 'var(--ink)'}
      stroke-width={line.school === 'planned' ? 2.4 : 1.3}
      stroke-dasharray={DASHES[line.school]}
    />
    <path
      d="M{width - RIGHT + 8} {TOP + 7 + index * 18}h20"
      stroke={line.school === 'planned' ? 'var(--ember)' : 'var(--ink)'}
      stroke-width={line.school === 'planned' ? 2.4 : 1.3}
      stroke-dasharray={DASHES[line.school]}
    />
    <text x={width - RIGHT + 33} y={TOP + 11 + index * 18}
      >{(schools[line.school] ?? '').replace(' into the corner', '').replace('in a ', '')}</text
    >
  {/each}
</svg>

<style>
  text {
    font-size: 13px;
    fill: var(--ink-2);
  }
</style>
