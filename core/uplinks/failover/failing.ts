/** How often something fails, and for how long in the mean. */
export interface Failing {
  readonly id: string
  readonly timesAYear: number
  readonly hours: number
}

export const YEAR_HOURS = 8766

/** The share of time in which something is down that fails so often and so long. */
export const downShare = ({ timesAYear, hours }: Failing): number => {
  const down = (timesAYear * hours) / YEAR_HOURS
  // Counted per year of working: it does not fail while it is down.
  return down / (1 + down)
}
/** The chance that all of them work. */
export const worksShare = (all: readonly Failing[]): number =>
  all.reduce((p, f) => p * (1 - downShare(f)), 1)
