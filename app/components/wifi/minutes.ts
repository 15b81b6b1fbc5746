/** Times of the day in minutes, as people type them. */
export const clockOf = (minute: number): string =>
  `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`
/** NaN of what is no time of the day. */
export function minuteOf(text: string): number {
  const m = /^(\d{1,2}):(\d\d)$/.exec(text.trim())
  const minute = m && Number(m[2]) < 60 ? Number(m[1]) * 60 + Number(m[2]) : NaN
  return minute >= 0 && minute < 1440 ? minute : NaN
}
