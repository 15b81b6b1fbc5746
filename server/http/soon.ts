import { Refused } from '../refusal'

/**
 * Whoever waits longer for something to be read than this is told to come again: a busy moment
 * passes, and nobody looks at a page that stands still.
 */
const SOON_MS = 1700

/**
 * The outcome, where it comes soon. What is under way goes on, so this is for what may be asked
 * again: reading, and what is done once however often it is asked.
 * @param hasBegun whether the answer is on its way already, as that of a stream is: then it takes
 * as long as it takes
 * @throws Refused
 */
export async function soon<T>(
  work: Promise<T>,
  hasBegun = (): boolean => false,
  withinMs = SOON_MS,
): Promise<T> {
  let timer: NodeJS.Timeout | undefined
  work.catch(() => {})
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => {
      if (!hasBegun())
        reject(new Refused('busy', 'too much is going on at once; try again in a moment'))
    }, withinMs)
  })
  try {
    return await Promise.race([work, late])
  } finally {
    clearTimeout(timer)
  }
}
