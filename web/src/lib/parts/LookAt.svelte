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

<label
  ><span class="unit">Look at</span>
  <input
    type="range"
    min="0"
    max={most}
    value={at}
    aria-label={label}
    aria-valuetext={text}
    oninput={(event) => choose(Number(event.currentTarget.value))}
  /></label
>

<style>
  label {
    display: flex;
    gap: 10px;
    align-items: center;
  }
  input {
    flex: 1;
    accent-color: var(--ink);
  }
  @media print {
    label {
      display: none;
    }
  }
</style>
