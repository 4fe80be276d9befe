<script lang="ts">
  import type { FigureRow, RaceRules } from '../api/client'
  import OptionalFigure from '../car/OptionalFigure.svelte'
  import type { View } from '../state/view.svelte'
  import type { Workbench } from '../state/workbench.svelte'

  /** Figures of the race by their groups, each changed where it stands; rules can be left out. */
  let { bench, view, groups }: { bench: Workbench; view: View; groups: string[] } = $props()

  const rows = $derived(bench.figures.of('race').filter((row) => groups.includes(row.group)))
  const rules = $derived(bench.open?.plan.race as RaceRules)
  const valueOf = (row: FigureRow): number | null =>
    (rules as unknown as Record<string, number | null>)[row.field] ?? null
  const units = $derived(view.units)
  function set(field: string, value: number | boolean | null): Promise<string | null> {
    return bench.editPlan({ race: { ...rules, [field]: value } })
  }
</script>

<div class="text-[14px] print:hidden">
  {#each groups as group (group)}
    <h2 class="figure pt-2 text-[16px]">{group}</h2>
    <dl>
      {#each rows.filter((row) => row.group === group) as row (row.name)}
        {@const value = valueOf(row)}
        <div
          class="gap-2.5 border-t border-t-hair flex justify-between min-h-6.25 items-baseline"
          title={row.changes}
        >
          <dt>{row.label}</dt>
          <dd class="text-right whitespace-nowrap">
            <OptionalFigure {row} {value} {units} write={(next) => set(row.field, next)} />
          </dd>
        </div>
      {/each}
    </dl>
    {#if group === 'Stops'}
      <label class="px-0 py-0.5 border-t border-t-hair block"
        ><input
          type="checkbox"
          checked={rules.stop_at_once}
          onchange={(event) => void set('stop_at_once', event.currentTarget.checked)}
        /> tyres and fuel at once</label
      >
      <label class="px-0 py-0.5 border-t border-t-hair block"
        ><input
          type="checkbox"
          checked={rules.keep_tyres}
          onchange={(event) => void set('keep_tyres', event.currentTarget.checked)}
        /> tyres may stay on at a stop</label
      >
    {/if}
  {/each}
</div>
