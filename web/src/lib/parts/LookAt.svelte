<script lang="ts">
  /** Which of many is looked at: a slider for the keys and the thumb, beside what the pointer does. */
  let {
    label,
    most,
    at,
    text,
    choose,
  }: {
    label: string
    most: number
    at: number
    /** What is looked at, in words. */
    text: string
    choose: (index: number) => void
  } = $props()
</script>

<label class="gap-2.5 flex items-center print:hidden"
  ><span class="unit">Look at</span>
  <input
    class="flex-1 [accent-color:var(--ink)]"
    type="range"
    min="0"
    max={most}
    value={at}
    aria-label={label}
    aria-valuetext={text}
    oninput={(event) => choose(Number(event.currentTarget.value))}
  /></label
>
