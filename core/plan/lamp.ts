/** How a lamp speaks, in words: groups of short and long signals, or an even rhythm. */
import type { Light } from './kinds/profile'

const NUMBERS = ['no', 'one', 'two', 'three', 'four', 'five', 'six']

const EVEN: Readonly<Record<string, string>> = {
  none: 'dark',
  steady: 'steady',
  slow: 'slow',
  double: 'in pairs',
  fast: 'fast',
}

/** Signals of a group that comes again and again, for example `..-`: two short, one long. */
export const isGroup = (rhythm: Light['rhythm']): boolean => /^[.-]+$/.test(rhythm)

export function rhythmWords(rhythm: Light['rhythm']): string {
  if (!isGroup(rhythm)) return EVEN[rhythm] ?? rhythm
  return (rhythm.match(/\.+|-+/g) ?? [])
    .map((run) => `${NUMBERS[run.length]} ${run.startsWith('.') ? 'short' : 'long'}`)
    .join(', ')
}

export const lightWords = ({ colour, rhythm }: Pick<Light, 'colour' | 'rhythm'>): string =>
  colour === 'off' ? 'dark' : `${colour}, ${rhythmWords(rhythm)}`
