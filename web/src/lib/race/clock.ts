/** A time of the race: "42 min", "1 h 07". */
export function raceClock(seconds: number): string {
  const minutes = Math.floor(seconds / 60)
  return minutes < 60
    ? `${minutes} min`
    : `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}`
}
