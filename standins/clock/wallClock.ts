/**
 * What a clock on the wall shows in a time zone: the day of the week, 1 for Monday, and the minute
 * of the day.
 */
export function wallClockAt(
  timeZone: string,
  epochSeconds: number,
): { day: number; minute: number } {
  // What the clock shows, read as if it were UTC.
  const at = new Date(
    `${new Date(epochSeconds * 1000).toLocaleString('sv-SE', { timeZone }).replace(' ', 'T')}Z`,
  )
  return { day: at.getUTCDay() || 7, minute: at.getUTCHours() * 60 + at.getUTCMinutes() }
}
