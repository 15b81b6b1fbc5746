/**
 * Moments and counts as they are written here. Making a formatter costs a thousand times what using
 * one does, so each is made once.
 */
const formats = {
  time: new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' }),
  second: new Intl.DateTimeFormat('en-GB', {
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
  }),
  day: new Intl.DateTimeFormat('en-GB'),
  moment: new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' }),
}
const counts = new Intl.NumberFormat('en-GB')

export const timeText = (at: string): string => formats.time.format(new Date(at))
export const secondText = (at: string): string => formats.second.format(new Date(at))
export const dayText = (at: string): string => formats.day.format(new Date(at))
export const momentText = (at: string): string => formats.moment.format(new Date(at))
export const countText = (n: number | bigint): string => counts.format(n)
