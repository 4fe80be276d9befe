/** How figures are said, once they are in the units of the page. */

export const whole = (value: number): string => Math.round(value).toString()

/** m:ss.mmm */
export function lapTime(seconds: number): string {
  const thousandths = Math.round(seconds * 1000)
  const minutes = Math.floor(thousandths / 60000)
  const rest = thousandths % 60000
  const whole = Math.floor(rest / 1000).toString()
  const part = (rest % 1000).toString().padStart(3, '0')
  return `${minutes}:${whole.padStart(2, '0')}.${part}`
}

/** Signed, three decimals unless said otherwise, with a true minus sign. */
export function timeDifference(seconds: number, decimals = 3): string {
  const rounded = Number(seconds.toFixed(decimals))
  const sign = rounded > 0 ? '+' : rounded < 0 ? '−' : '±'
  return `${sign}${Math.abs(rounded).toFixed(decimals)}`
}

/** A figure with at most so many decimals, without trailing zeros. */
export function plain(value: number, decimals: number): string {
  return Number(value.toFixed(decimals)).toString()
}

/** What a person typed as a number: a comma or a point, spaces ignored; null when it is none. */
export function typedNumber(text: string): number | null {
  const cleaned = text.trim().replace(/\s/g, '').replace('−', '-').replace(',', '.')
  if (!/^[-+]?(\d+\.?\d*|\.\d+)$/.test(cleaned)) return null
  return Number(cleaned)
}

/** A moment as day and minute on this machine's clock. */
export function moment(text: string): string {
  return new Date(text).toLocaleString(undefined, {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  })
}

/** Hour and minute of now. */
export function timeOfDay(): string {
  return new Date().toLocaleTimeString(undefined, {
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  })
}
