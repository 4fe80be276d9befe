<script lang="ts">
  import Disc from './Disc.svelte'

  /** What the textures mean (with a lap on the page), and what a computed braking point is not. */
  let { lap }: { lap: boolean } = $props()
</script>

<footer
  class="px-0 py-0.5 gap-6 flex justify-between items-center min-h-7.5 leading-[1.25] narrow:flex-col narrow:items-start"
>
  <p class="max-w-160 text-ink-2">
    A calculated braking point is the best a model can do, not a promise. The circuit’s rules, its
    marshals and flags, licensed instructors and the maker’s limits come first; on public roads none
    of this applies.
  </p>
  {#if lap}<ul class="gap-x-4 gap-y-1 flex flex-wrap">
      <li>
        <svg width="30" height="12" aria-hidden="true"
          ><path
            d="M0 2H30M0 5.500H30M0 9H30"
            stroke="var(--cool)"
            stroke-width="1.300"
            fill="none"
          /></svg
        > full throttle
      </li>
      <li>
        <svg width="26" height="12" aria-hidden="true"
          ><rect
            x=".5"
            y=".5"
            width="25"
            height="11"
            fill="url(#hatch)"
            stroke="var(--ember)"
          /></svg
        > braking
      </li>
      <li>
        <svg width="18" height="12" aria-hidden="true"
          ><rect width="18" height="12" fill="url(#dots)" /></svg
        > lift
      </li>
      <li>
        <svg width="22" height="12" aria-hidden="true"
          ><path d="M0 6H22" stroke="var(--ink)" stroke-width="2.600" /></svg
        > part throttle
      </li>
      <li><Disc direction="right" angleDeg={90} size={15} /> right, half a U-turn</li>
    </ul>{/if}
</footer>

<style>
  li {
    display: flex;
    gap: 6px;
    align-items: center;
    white-space: nowrap;
  }
</style>
