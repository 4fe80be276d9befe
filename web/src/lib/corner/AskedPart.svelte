<script lang="ts">
  import type { Corner, CornerCalls, FigureRow } from '../api/client'
  import type { Workbench } from '../state/workbench.svelte'
  import type { View } from '../state/view.svelte'
  import Figure from '../parts/Figure.svelte'
  import { whole } from '../parts/format'
  import Price from './Price.svelte'

  /** What is asked for at this corner alone, each with its price, and the way back. */
  let {
    bench,
    view,
    corner,
    number,
    calls,
  }: {
    bench: Workbench
    view: View
    corner: Corner
    number: number
    calls: CornerCalls | null
  } = $props()

  const units = $derived(view.units)
  const order = $derived(
    bench.open?.plan.corners?.find((one) => one.name === corner.name && one.corner === number) ??
      bench.open?.plan.corners?.find((one) => one.name === corner.name),
  )
  const driven = $derived(bench.open?.plan.circuit.segments_describe === 'driven')
  const radius = $derived(bench.assumptions?.radii_m[number] ?? null)
  /** What can be asked here, and what is driven where nothing is. */
  const computed = $derived<Record<string, number | null>>({
    gear: corner.gear,
    braking: 1,
    grip_factor: 1,
    driven_radius_m: driven ? radius : null,
  })
  const rows = $derived(
    bench.figures.of('order').filter((row) => (computed[row.field] ?? null) !== null),
  )
  const askedOf = (field: string): number | null => {
    const value = (order as unknown as Record<string, unknown> | undefined)?.[field]
    return typeof value === 'number' ? value : null
  }
  const unitOf = (row: FigureRow): string => units.unitFor(row)
  let refused = $state<{ field: string; message: string } | null>(null)
  let waiting: { field: string; value: number } | null = null

  async function ask(field: string, value: number | null): Promise<void> {
    const message = await bench.editPlan({
      order: { corner: order?.corner ?? number, name: corner.name, field, value },
    })
    refused = message === null ? null : { field, message }
  }
  function settle(): void {
    const one = waiting
    waiting = null
    if (one) void ask(one.field, one.value)
  }
  const priceOf = (field: string): number | null | undefined =>
    calls?.orders.find((one) => one.field === field)?.cost_s
</script>

<div class="asked" data-testid="asked">
  <h3 class="figure text-[16px]">This corner only</h3>
  <table class="ruled">
    <tbody>
      {#each rows as row (row.name)}
        {@const asked = askedOf(row.field)}
        {@const price = priceOf(row.field)}
        <tr class:own={asked !== null}>
          <th class="pl-0 pr-1.5 py-px whitespace-nowrap" scope="row"
            >{asked !== null ? '▸ ' : ''}{row.label}</th
          >
          <td class="pl-0 pr-1.5 py-px whitespace-nowrap">
            {#key `${corner.name}/${row.field}`}
              <Figure
                label="{row.label} at {corner.name}{unitOf(row) ? ` (${unitOf(row)})` : ''}"
                value={units.show(asked ?? computed[row.field] ?? 0, row.quantity)}
                {...units.fit(row)}
                width="4.4ch"
                size="17px"
                refusal={refused?.field === row.field ? refused.message : null}
                change={(value) =>
                  (waiting = {
                    field: row.field,
                    value:
                      row.decimals === 0 && row.quantity === 'none'
                        ? Math.round(value)
                        : units.read(value, row.quantity),
                  })}
                done={settle}
                refuse={(message) => (refused = { field: row.field, message })}
                forget={() => (refused = null)}
              />
            {/key}
            <span class="unit">{unitOf(row)}</span>
          </td>
          <td class="px-0 py-px whitespace-nowrap text-right">
            {#if asked !== null}
              {#if price === undefined}<span class="unit">…</span>{:else}<Price
                  seconds={price}
                />{/if}
              <button class="link text-[13px]" onclick={() => void ask(row.field, null)}
                >as calculated<span class="sr-only">: {row.label} at {corner.name}</span></button
              >
            {:else}<span class="unit">as calculated</span>{/if}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
  {#if !driven && radius !== null}
    <p class="unit">
      The driven radius is calculated from the road:
      <button class="link text-[13px]" onclick={() => view.turnTo('line')}
        >Set another in the Line view</button
      >.
    </p>
  {/if}
  {#if order && (order.gear ?? null) !== null && order.gear !== corner.gear}
    <p class="unit">{whole(order.gear ?? 0)} is set, but only {corner.gear} can be used.</p>
  {/if}
</div>

<style>
  .own {
    background: var(--wash);
  }
  .own th {
    font-weight: 700;
  }
</style>
