/** What this browser remembers between visits; a browser that refuses simply forgets. */

const PREFIX = 'neapfrost-'

export function recallText(name: string): string | null {
  try {
    return localStorage.getItem(PREFIX + name)
  } catch {
    return null
  }
}

export function remember(name: string, value: string): void {
  try {
    localStorage.setItem(PREFIX + name, value)
  } catch {
    // Private windows may not keep anything; the page works the same without.
  }
}
