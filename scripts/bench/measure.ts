/**
 * Timing with its spread, and what a benchmark reports: its own number, that of its reference, and
 * their ratio.
 */
export interface Row {
  readonly name: string
  readonly value: number
  readonly unit: string
  readonly reference: string
  readonly referenceValue: number
  readonly ratio: number
  readonly aim: string
  readonly met: boolean
}

export const median = (list: readonly number[]): number => {
  const s = [...list].sort((a, b) => a - b)
  return s[Math.floor(s.length / 2)]!
}

/**
 * Median of several runs in ms; each run gets something fresh, so that nothing is remembered from
 * the last.
 */
export function timed<T>(runs: number, fresh: () => T, work: (given: T) => void): number {
  for (let i = 0; i < 3; i++) work(fresh())
  return median(
    Array.from({ length: runs }, () => {
      const given = fresh()
      const start = performance.now()
      work(given)
      return performance.now() - start
    }),
  )
}
const round = (n: number): number => (n >= 100 ? Math.round(n) : Math.round(n * 100) / 100)
export const row = (r: Omit<Row, 'ratio' | 'met'> & { met(ratio: number): boolean }): Row => {
  const ratio = r.value / r.referenceValue
  return {
    ...r,
    value: round(r.value),
    referenceValue: round(r.referenceValue),
    ratio: round(ratio),
    met: r.met(ratio),
  }
}
