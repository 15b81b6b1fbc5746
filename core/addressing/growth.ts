/**
 * When a segment is full: hosts that grow by the same share every year against what its pools hold.
 */

/**
 * The yearly share behind a growth that is meant over some years, e.g. 50 % over 3 years is 14.5 %
 * a year.
 */
export const yearlyGrowth = (growthPercent: number, years: number): number =>
  (1 + growthPercent / 100) ** (1 / years) - 1

/**
 * Years until the hosts fill the capacity; 0 where they do already, Infinity where they do not
 * grow.
 */
export function yearsUntilFull(
  hosts: number,
  capacity: number,
  growthPercent: number,
  years: number,
): number {
  if (hosts > capacity) return 0
  const rate = yearlyGrowth(growthPercent, years)
  return rate <= 0 ? Infinity : Math.log(capacity / hosts) / Math.log(1 + rate)
}
