/** Serials that are almost the same: how a mistyped one is told from a stranger's device. */

/**
 * Edits (insert, delete, change, exchange of neighbours) that take one text to another:
 * Damerau-Levenshtein, restricted.
 */
export function editDistance(a: string, b: string): number {
  const rows = Array.from({ length: a.length + 1 }, (_, i) =>
    Array.from({ length: b.length + 1 }, (_, j) => (i === 0 ? j : j === 0 ? i : 0)),
  )
  for (let i = 1; i <= a.length; i++)
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1] ? 0 : 1
      let best = Math.min(rows[i - 1]![j]! + 1, rows[i]![j - 1]! + 1, rows[i - 1]![j - 1]! + same)
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        best = Math.min(best, rows[i - 2]![j - 2]! + 1)
      rows[i]![j] = best
    }
  return rows[a.length]![b.length]!
}

/** The planned serial that a heard one was probably meant to be: the nearest within two edits. */
export function nearestSerial(
  heard: string,
  planned: readonly string[],
): { serial: string; distance: number } | undefined {
  let best: { serial: string; distance: number } | undefined
  for (const serial of planned) {
    const distance = editDistance(heard, serial)
    if (distance > 0 && distance <= 2 && (!best || distance < best.distance))
      best = { serial, distance }
  }
  return best
}
