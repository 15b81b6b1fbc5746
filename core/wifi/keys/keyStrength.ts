/** C-31: how long it takes to guess a key, and what is wrong with it. */
import zxcvbn from 'zxcvbn'

/** The shortest that is allowed (IEEE 802.11), the longest, and good practice for people's networks. */
export const SHORTEST = 8
export const LONGEST = 63
export const GOOD = 14
/**
 * Tries a second of one who has listened to a client joining and guesses at home: some cards that
 * do nothing else (common practice; each guess is 4096 rounds of PBKDF2).
 */
const GUESSES_A_SECOND = 1e6
/** No longer than that is looked at: it is beyond guessing by then, and looking takes time. */
const LOOKED_AT = 63

export interface KeyStrength {
  readonly isAllowed: boolean
  /** Powers of ten of guesses. */ readonly guesses10: number
  readonly seconds: number
  /** From the worst: what is wrong, in words; none where nothing is. */
  readonly problems: readonly string[]
}

/** @param known words that somebody would try first: names of the network and of the site */
export function keyStrength(key: string, known: readonly string[]): KeyStrength {
  // The 256 bits themselves, nobody guesses.
  if (/^[0-9a-f]{64}$/i.test(key))
    return { isAllowed: true, guesses10: 77, seconds: 10 ** 77 / GUESSES_A_SECOND, problems: [] }
  const isAllowed = key.length >= SHORTEST && key.length <= LONGEST && isPrintable(key)
  const own = known.flatMap((k) => [k, ...k.split(/\s+/)]).filter((k) => k.length >= 3)
  const found = zxcvbn(key.slice(0, LOOKED_AT), own)
  const guesses10 = found.guesses_log10
  const seconds = 10 ** guesses10 / GUESSES_A_SECOND
  const named = own.find((k) => key.toLowerCase().includes(k.toLowerCase()))
  const problems = [
    ...(!isAllowed
      ? [
          key.length < SHORTEST
            ? `it has ${key.length} characters, and the standard asks for ${SHORTEST}`
            : key.length > LONGEST
              ? `it has ${key.length} characters, and ${LONGEST} are the most (or 64 hexadecimal digits)`
              : 'it has characters that are no printable ASCII',
        ]
      : []),
    ...(seconds < YEAR_S ? [`it is guessed within ${timeWords(seconds)}`] : []),
    ...(isAllowed && key.length < GOOD
      ? [`it has ${key.length} characters, and ${GOOD} are good practice`]
      : []),
    ...(named ? [`it has '${named}' in it, which whoever tries knows`] : []),
    ...(found.feedback.warning ? [found.feedback.warning.toLowerCase()] : []),
  ]
  return { isAllowed, guesses10, seconds, problems }
}
const isPrintable = (key: string): boolean => /^[\x20-\x7e]*$/.test(key)

const YEAR_S = 31_557_600
/** In the largest unit that fits. */
export function timeWords(seconds: number): string {
  const units = [
    [YEAR_S * 1e9, 'a thousand million years or more'],
    [YEAR_S * 1e6, 'million years'],
    [YEAR_S, 'years'],
    [86_400, 'days'],
    [3600, 'hours'],
    [60, 'minutes'],
    [1, 'seconds'],
  ] as const
  for (const [size, word] of units)
    if (seconds >= size)
      return size === YEAR_S * 1e9 ? word : `${Math.round(seconds / size)} ${word}`
  return 'a second'
}
