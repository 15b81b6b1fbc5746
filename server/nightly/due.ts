/** Whether a minute of the day has come, by the clocks of a site. */
import { weekMinuteAt } from '@mast/core/plan'

const DAY_MINUTES = 24 * 60
/** So long after its minute it is still done, min: a server may have been off. */
const WINDOW_MINUTES = 60

/** The date, as ISO 8601 has it, of the minute that came within the last hour; null where none did. */
export function dueDay(timeZone: string, minute: number, now: Date): string | null {
  const late = ((weekMinuteAt(timeZone, now) % DAY_MINUTES) - minute + DAY_MINUTES) % DAY_MINUTES
  if (late >= WINDOW_MINUTES) return null
  const came = new Date(now.getTime() - late * 60_000)
  return new Intl.DateTimeFormat('en-CA', { timeZone, dateStyle: 'short' }).format(came)
}
