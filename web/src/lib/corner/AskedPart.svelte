<script lang="ts">
  import type { Corner, CornerCalls } from '../api/client'
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
  type Field = 'gear' | 'braking' | 'grip_factor' | 'driven_radius_m'
  interface Row {
    field: Field
    label: string
    unit: string
    shown: number
    step: number
    fine: number
    decimals: number
    read: (value: number) => number
  }
  const rows = $derived.by((): Row[] => {
    const percent = (value: number): number => value / 100
    const found: Row[] = [
      {
        field: 'gear',
        label: 'Gear',
        unit: '',
        shown: order?.gear ?? corner.gear,
        step: 1,
        fine: 1,
        decimals: 0,
        read: Math.round,
      },
      {
        field: 'braking',
        label: 'Braking effort',
        unit: '%',
        shown: 100 * (order?.braking ?? 1),
        step: 5,
        fine: 1,
        decimals: 0,
        read: percent,
      },
      {
        field: 'grip_factor',
        label: 'Grip here',
        unit: '%',
        shown: 100 * (order?.grip_factor ?? 1),
        step: 5,
        fine: 1,
        decimals: 0,
        read: percent,
      },
    ]
    if (driven && radius !== null)
      found.push({
        field: 'driven_radius_m',
        label: 'Driven radius',
        unit: units.lengthUnit,
        shown: units.length(order?.driven_radius_m ?? radius),
        step: 1,
        fine: 0.1,
        decimals: 1,
        read: (value) => units.read(value, 'length'),
      })
    return found
  })
  let refused = $state<{ field: Field; message: string } | null>(null)
  let waiting: { field: Field; value: number } | null = null

  async function ask(field: Field, value: number | null): Promise<void> {
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
  const priceOf = (field: Field): number | null | undefined =>
    calls?.orders.find((one) => one.field === field)?.cost_s
</script>

<div class="asked" data-testid="asked">
  <h3 class="figure">Here only</h3>
  <table>
    <tbody>
      {#each rows as row (row.field)}
        {@const asked = order?.[row.field] ?? null}
        {@const price = priceOf(row.field)}
        <tr class:own={asked !== null}>
          <th scope="row">{asked !== null ? '▸ ' : ''}{row.label}</th>
          <td>
            {#key `${corner.name}/${row.field}`}
              <Figure
                label="{row.label} at {corner.name}{row.unit ? ` (${row.unit})` : ''}"
                value={row.shown}
                decimals={row.decimals}
                step={row.step}
                fine={row.fine}
                width="4.4ch"
                size="17px"
                refusal={refused?.field === row.field ? refused.message : null}
                change={(value) => (waiting = { field: row.field, value: row.read(value) })}
                done={settle}
                refuse={(message) => (refused = { field: row.field, message })}
                forget={() => (refused = null)}
              />
            {/key}
            <span class="unit">{row.unit}</span>
          </td>
          <td class="price">
            {#if asked !== null}
              {#if price === undefined}<span class="unit">…</span>{:else}<Price
                  seconds={price}
                />{/if}
              <button class="link" onclick={() => void ask(row.field, null)}
                >as computed<span class="sr-only">: {row.label} at {corner.name}</span></button
              >
            {:else}<span class="unit">as computed</span>{/if}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
  {#if !driven && radius !== null}
    <p class="unit">
      The driven radius is computed from the road:
      <button class="link" onclick={() => view.turnTo('line')}>ask for another in Line</button>.
    </p>
  {/if}
  {#if order && (order.gear ?? null) !== null && order.gear !== corner.gear}
    <p class="unit">{whole(order.gear ?? 0)} is asked for; {corner.gear} is what can be driven.</p>
  {/if}
</div>

<style>
  h3 {
    font-size: 16px;
  }
  table {
    width: 100%;
    border-spacing: 0;
  }
  th,
  td {
    text-align: left;
    font-weight: 500;
    font-size: 14px;
    border-top: 1px solid var(--hair);
    padding: 1px 6px 1px 0;
    white-space: nowrap;
  }
  .own {
    background: var(--wash);
  }
  .own th {
    font-weight: 700;
  }
  .price {
    text-align: right;
    padding-right: 0;
  }
  .link {
    color: var(--cool);
    text-decoration: underline;
    cursor: pointer;
    font-size: 13px;
  }
</style>
