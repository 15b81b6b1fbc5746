/** Lengths of time in words. */

/** To the minute: `45 s`, `12 min`, `3 h 5 min`. */
export function formatDuration(seconds: number): string {
  const minutes = Math.round(seconds / 60)
  if (seconds < 60) return `${Math.round(seconds)} s`
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`
}

/** To the second where it is short: `63 s`, `2 min 5 s`, `3 h 5 min`. */
export function exactDuration(seconds: number): string {
  const whole = Math.round(seconds)
  if (seconds < 120) return `${Number(seconds.toFixed(1))} s`
  if (seconds >= 7200) return formatDuration(seconds)
  return `${Math.floor(whole / 60)} min${whole % 60 ? ` ${whole % 60} s` : ''}`
}

/** In one unit, as one says it: `80 s`, `12 min`, `5 h`. */
export const roughDuration = (seconds: number): string =>
  seconds < 90
    ? `${Math.round(seconds)} s`
    : seconds < 7200
      ? `${Math.round(seconds / 60)} min`
      : `${Math.round(seconds / 3600)} h`

/** A length that somebody chose, in the largest unit that it is whole of: `2 d`, `8 h`, `30 min`. */
export const chosenDuration = (seconds: number): string =>
  seconds % 86_400 === 0
    ? `${seconds / 86_400} d`
    : seconds % 3600 === 0
      ? `${seconds / 3600} h`
      : `${Math.round(seconds / 60)} min`

const UNITS: Readonly<Record<string, number>> = { s: 1, min: 60, h: 3600, d: 86_400 }

/**
 * Reads a length of time as one writes it, `8 h`, `90 min`, `1.5 d`, s. Without a unit there is
 * none: `8` may be hours as well as seconds.
 */
export function explainDuration(
  text: string,
): { readonly ok: true; readonly value: number } | { readonly ok: false; readonly reason: string } {
  const [, number, unit] = /^\s*(\d+(?:\.\d+)?)\s*([a-z]*)\s*$/i.exec(text) ?? []
  const factor = UNITS[unit?.toLowerCase() ?? '']
  if (number === undefined || factor === undefined)
    return { ok: false, reason: 'a number and its unit: 30 min, 8 h, 1 d' }
  return { ok: true, value: Math.round(Number(number) * factor) }
}

/** The same where a bare number can only be seconds: what a stopwatch shows. */
export function explainSeconds(text: string): ReturnType<typeof explainDuration> {
  const plain = /^\s*(\d+(?:\.\d+)?)\s*$/.exec(text)
  return plain ? { ok: true, value: Number(plain[1]) } : explainDuration(text)
}
