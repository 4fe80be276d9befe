import type { Result } from '../api/client'

const THEME_KEY = 'neapfrost-theme'

/** Where the reader is: the cursor along the lap, the selected corner, day or night, the sheet of keys. */
export class View {
  cursorM = $state<number | null>(null)
  corner = $state<number | null>(null)
  night = $state(localStorage.getItem(THEME_KEY) === 'night')
  keysOpen = $state(false)

  toggleTheme(): void {
    this.night = !this.night
    localStorage.setItem(THEME_KEY, this.night ? 'night' : 'day')
    document.documentElement.dataset.theme = this.night ? 'neapfrost-night' : 'neapfrost-day'
  }

  applyTheme(): void {
    document.documentElement.dataset.theme = this.night ? 'neapfrost-night' : 'neapfrost-day'
  }

  /** Select a corner by its number in the lap, and put the cursor at its minimum speed. */
  select(result: Result, index: number): void {
    const count = result.corners.length
    if (count === 0) return
    this.corner = ((index % count) + count) % count
    this.cursorM = result.corners[this.corner]?.min_speed_at_m ?? null
  }

  /** Move the cursor along the lap; at the line it goes round. */
  move(result: Result, byM: number): void {
    const at = (this.cursorM ?? 0) + byM
    this.cursorM = ((at % result.length_m) + result.length_m) % result.length_m
  }
}
