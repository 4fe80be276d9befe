<script lang="ts">
  import type { LogPreview } from '../api/client'
  import { plain } from '../parts/format'

  /** Every channel of a file, in small, and which of them is taken for what. */
  let {
    preview,
    drawn,
    use,
  }: {
    preview: LogPreview
    /** A path through values, 240 wide and 24 high. */
    drawn: (values: number[]) => string
    use: (number: number, role: string) => void
  } = $props()
</script>

<table class="ruled mt-2" data-testid="channels">
  <caption class="text-left text-[14px]">All channels of the file</caption>
  <thead>
    <tr>
      <th scope="col">Channel</th>
      <th scope="col">Unit</th>
      <th scope="col">Along the file</th>
      <th scope="col">Range</th>
      <th scope="col" class="number">Blank %</th>
      <th scope="col">Used as</th>
    </tr>
  </thead>
  <tbody>
    {#each preview.channels ?? [] as channel (channel.number)}
      <tr>
        <th scope="row">{channel.name}</th>
        <td class="unit">{channel.unit}</td>
        <td>
          {#if channel.strip.length > 1}
            <svg class="inline-block align-middle" width="240" height="24" aria-hidden="true">
              <path d={drawn(channel.strip)} fill="none" stroke="var(--ink)" />
            </svg>
          {/if}
        </td>
        <td class="whitespace-nowrap"
          >{channel.low === null || channel.high === null
            ? 'no numbers'
            : `${plain(channel.low, 3)} to ${plain(channel.high, 3)}`}</td
        >
        <td class="number">{plain(channel.blank_pct, 0)}</td>
        <td class="whitespace-nowrap">
          <select
            class="dotted-below bg-transparent text-[14px]"
            aria-label="Use of {channel.name}"
            value={channel.role}
            onchange={(event) => use(channel.number, event.currentTarget.value)}
          >
            <option value="">not used, kept</option>
            {#each preview.choices ?? [] as choice (choice.role)}
              <option value={choice.role}>{choice.label}</option>
            {/each}
          </select>
          <span class="unit">{channel.why}</span>
        </td>
      </tr>
    {/each}
  </tbody>
</table>
