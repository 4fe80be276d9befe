<script lang="ts">
  import Figure from '../parts/Figure.svelte'

  /** A figure of the car changed where it stands; written when it is let go of. */
  let {
    label,
    value,
    decimals,
    step,
    fine,
    width = '8ch',
    write,
  }: {
    label: string
    value: number
    decimals: number
    step: number
    fine: number
    width?: string
    write: (value: number) => Promise<string | null>
  } = $props()

  let waiting = $state<number | null>(null)
  let refusal = $state<string | null>(null)

  async function done(): Promise<void> {
    const next = waiting
    if (next === null || next === value) {
      waiting = null
      return
    }
    refusal = await write(next)
    if (refusal === null) waiting = null
  }
</script>

<Figure
  {label}
  value={waiting ?? value}
  {decimals}
  {step}
  {fine}
  {width}
  size="16px"
  {refusal}
  change={(next) => {
    waiting = next
    refusal = null
  }}
  done={() => void done()}
  refuse={(message) => (refusal = message)}
  forget={() => {
    refusal = null
    waiting = null
  }}
/>
