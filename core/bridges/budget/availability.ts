/** How much of the year each step of modulation stands. */
import { fadingOccurrence, fadingWorstMonth, fadingYear, isFadingKnown } from '../losses/fading'
import { rainPercent } from '../losses/rain'
import type { RateStep } from '../../plan'
import { roughDuration } from '../../words'
import type { Budget, Direction } from './budget'

/** Minutes of a year of 365.25 days. */
export const YEAR_MINUTES = 525_960

/** Of a year, in one unit: `20 min`, `15 h`, `3 days`. */
export function yearWords(minutes: number): string {
  if (minutes >= YEAR_MINUTES - 1) return 'always'
  if (minutes < 1) return 'less than a minute'
  return minutes >= 2880 ? `${Math.round(minutes / 1440)} days` : roughDuration(minutes * 60)
}

export interface StepTime {
  readonly step: RateStep
  /** Of the level over what the step needs, dB. */
  readonly marginDb: number
  /** Of the year that it is not held, %. */
  readonly rainPercent: number
  readonly fadingPercent: number
  readonly belowMinutes: number
}

/**
 * Minutes a year below each step, rain and fading side by side: they are not there at once (ITU-R
 * P.530).
 */
export function stepTimes({ facts, losses }: Budget, direction: Direction): StepTime[] {
  const { way, a, b, bridge, mhz } = facts
  const path = {
    metres: way.metres,
    mhz,
    heightAM: a.topM,
    heightBM: b.topM,
    climate: bridge.climate,
  }
  const occurrence = isFadingKnown(path) ? fadingOccurrence(path) : 0
  return direction.steps.map((step): StepTime => {
    const marginDb = direction.levelDbm - step.leastDbm
    const rain = rainPercent(marginDb, losses.rainDb, mhz)
    const fading =
      marginDb <= 0 ? 100 : fadingYear(fadingWorstMonth(marginDb, occurrence), path, a.at.latitude)
    const percent = marginDb <= 0 ? 100 : Math.min(100, rain + fading)
    return {
      step,
      marginDb,
      rainPercent: rain,
      fadingPercent: fading,
      belowMinutes: (percent / 100) * YEAR_MINUTES,
    }
  })
}

/** The fastest step that stands for so much of the year; undefined where none does. */
export const stepHeldFor = (
  times: readonly StepTime[],
  availabilityPercent: number,
): StepTime | undefined =>
  times.findLast((t) => t.belowMinutes <= ((100 - availabilityPercent) / 100) * YEAR_MINUTES)
