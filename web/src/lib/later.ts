/** Parts of the page that are not needed for the lap, read once that is shown. */

export const parts = {
  brief: () => import('./brief/BriefPage.svelte'),
  car: () => import('./car/CarPage.svelte'),
  circuit: () => import('./circuit/CircuitPage.svelte'),
  conditions: () => import('./conditions/ConditionsPage.svelte'),
  corner: () => import('./corner/CornerSheet.svelte'),
  drill: () => import('./drill/DrillPage.svelte'),
  import: () => import('./imports/ImportSheet.svelte'),
  line: () => import('./line/LinePage.svelte'),
  logbook: () => import('./logbook/LogbookPage.svelte'),
  race: () => import('./race/RacePage.svelte'),
  trade: () => import('./trade/TradePage.svelte'),
}

/** Read all of them, one after the other, whenever the browser has nothing better to do. */
export function readAhead(): void {
  const waiting = Object.values(parts)
  const next = (): void => {
    const part = waiting.shift()
    // What cannot be read now says so when it is shown.
    if (part)
      void part()
        .catch(() => undefined)
        .finally(() => requestIdleCallback(next))
  }
  requestIdleCallback(next)
}
