import type { View } from './view.svelte'
import type { Workbench } from './workbench.svelte'

/** The page's keys, for the sheet of keys and for whoever has no pointer. */
export function keyHandler(bench: Workbench, view: View): (event: KeyboardEvent) => void {
  let digits = ''
  let digitsAt = 0

  function focusFigure(label: string): void {
    document.querySelector<HTMLInputElement>(`input[aria-label^="${label}"]`)?.focus()
  }

  /** Two digits within a moment are one number. */
  function digit(key: string, at: number, count: number): number {
    const together = at - digitsAt < 600 && Number(digits + key) <= count
    digits = together ? digits + key : key
    digitsAt = at
    return Number(digits)
  }

  /** Undo and redo, also from within a figure; true when the key was one of them. */
  function turned(event: KeyboardEvent): boolean {
    const key = event.key.toLowerCase()
    if (key === 'z' && !event.shiftKey) void bench.undo()
    else if (key === 'y' || (key === 'z' && event.shiftKey)) void bench.redo()
    else return false
    return true
  }

  /** Keys that need no lap; true when the key was one of them. */
  function general(key: string): boolean {
    if (key === '?') view.sheet = 'keys'
    else if (key === 'n') view.toggleTheme()
    else if (key === 'u') view.nextUnits()
    else if (key === '/') view.sheet = 'plan'
    else if (key === 'c') view.sheet = 'compare'
    else if (key === 'h') view.sheet = 'history'
    else if (key === 'v') view.nextPage()
    else return false
    return true
  }

  return (event) => {
    const target = event.target as HTMLElement
    // Under an open sheet or menu the page takes no keys, wherever the focus has gone.
    if (document.querySelector('dialog[open], :popover-open')) return
    const writing = target.closest('input:not([role=spinbutton]), select, textarea')
    if (event.ctrlKey || event.metaKey) {
      if (!writing && !event.altKey && turned(event)) {
        // The figure being edited shows what the plan holds now, not what was typed into it.
        if (target instanceof HTMLInputElement) target.blur()
        event.preventDefault()
      }
      return
    }
    // A figure passes on the keys that no number has in it, and keeps the others.
    if (event.altKey || writing) return
    if (view.ownKeys?.(event)) {
      event.preventDefault()
      return
    }
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key
    const result = bench.result
    if (general(key)) {
      event.preventDefault()
      return
    }
    if (!result) return
    if (key === ']') view.select(result, (view.corner ?? -1) + 1)
    else if (key === '[') view.select(result, (view.corner ?? 0) - 1)
    else if (key === 'ArrowRight') view.move(result, event.shiftKey ? 1 : 10)
    else if (key === 'ArrowLeft') view.move(result, event.shiftKey ? -1 : -10)
    else if (key === 'Escape') view.letGo()
    else if (key === 'Enter') {
      // A button or a link in focus takes the key itself.
      if (target.closest('button, a, [role=spinbutton], summary')) return
      view.openCorner(result)
    } else if (key === 'o') {
      if (view.cornerOpen) view.cornerOpen = false
      else view.openCorner(result)
    } else if (key === 'k') view.showBands(!view.bands)
    else if (key === 'm') view.sheet = 'map'
    else if (key === 'w') view.sheet = 'words'
    else if (key === 'f') view.sheet = 'first'
    else if (key === 'p') print()
    else if (key === 'b') void (bench.open?.baseline ? bench.dropBaseline() : bench.pinBaseline())
    else if (key === 'g') focusFigure('Grip')
    else if (key === 'r' && view.corner !== null)
      focusFigure(`Radius of ${result.corners[view.corner]?.name ?? ''} `)
    else if (/^[0-9]$/.test(key)) {
      const number = digit(key, event.timeStamp, result.corners.length)
      if (number >= 1 && number <= result.corners.length) view.select(result, number - 1)
    } else return
    // A corner chosen by a key is what Enter is for now, not the button that was pressed before.
    if (/^[0-9[\]]$/.test(key) && target.closest('button, a, summary')) target.blur()
    event.preventDefault()
  }
}
