<script lang="ts">
  import { changeKey, type Workbench } from '../state/workbench.svelte'
  import type { View } from '../state/view.svelte'
  import Figure from '../parts/Figure.svelte'

  /** A corner’s radius, changed where it stands in the lap. */
  let {
    bench,
    view,
    corner,
    radius_m,
    width,
    size,
  }: {
    bench: Workbench
    view: View
    corner: string
    radius_m: number
    width?: string
    size: string
  } = $props()

  const units = $derived(view.units)
  const key = $derived(changeKey({ field: 'radius_m', corner }))
  const to = (shown: number) => ({
    field: 'radius_m',
    corner,
    value: units.read(shown, 'length'),
    hold_straights: view.holdStraights,
  })
</script>

<Figure
  label="Radius of {corner} ({units.lengthUnit})"
  value={units.length(radius_m)}
  decimals={1}
  step={1}
  fine={0.1}
  {width}
  {size}
  refusal={bench.refusal?.key === key ? bench.refusal.message : null}
  change={(shown) => bench.change(to(shown))}
  likely={(values) => bench.foresee(values.map(to))}
  done={() => void bench.settle()}
  refuse={(message) => bench.refuse(key, message)}
  forget={() => bench.clearRefusal(key)}
/>
