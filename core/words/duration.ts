/** Lengths of time in words. */

/** To the minute: `45 s`, `12 min`, `3 h 5 min`. */
export function formatDuration(seconds: number): string {
  const minutes = Math.round(seconds / 60)
  if (seconds < 60) return `${Math.round(seconds)} s`
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`
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
