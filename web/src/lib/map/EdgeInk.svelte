<script lang="ts">
  import type { DrawnEdge } from '../api/client'
  import type { MapWindow } from './window.svelte'

  /** Kerbs, dust and walls along a road, at scale. */
  let { map, edges }: { map: MapWindow; edges: DrawnEdge[] } = $props()
</script>

{#each edges as edge (edge.number)}
  <path
    d={map.path(edge.way)}
    class={edge.edge.kind}
    data-edge={edge.number}
    fill="none"
    stroke-width={edge.edge.kind === 'wall'
      ? 3
      : Math.max((edge.edge.width_m ?? 1) * map.now.scale, 2)}
  />
{/each}

<style>
  .kerb {
    stroke: var(--ink);
    stroke-dasharray: 5 5;
  }
  .dust {
    stroke: var(--coast);
    stroke-dasharray: 1 3;
    opacity: 0.7;
  }
  .wall {
    stroke: var(--ink);
  }
</style>
