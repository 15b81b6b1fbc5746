/**
 * Work on the same thing one after the other, in the order in which it was asked for; work on other
 * things beside it.
 */
import { Refused } from '../refusal'

/** More than this waiting for one thing, and whoever comes is told to come again. */
const MOST_WAITING = 200

interface Line {
  last: Promise<unknown>
  waiting: number
}
const lines = new Map<string, Line>()

/** Whoever's turn has not come after this long is told to come again. */
const LONGEST_WAIT_MS = 1200

const busy = (why: string): Refused => new Refused('busy', `${why}; try again in a moment`)

/**
 * @throws Refused where too many wait already, or the turn does not come soon: nothing was done then.
 * What one turn throws is its own matter: the next is given all the same.
 */
export function inTurn<T>(key: string, work: () => Promise<T>): Promise<T> {
  const line = lines.get(key) ?? { last: Promise.resolve(), waiting: 0 }
  if (line.waiting >= MOST_WAITING) throw busy('too many changes of this site wait to be saved')
  lines.set(key, line)
  line.waiting++
  const begun = performance.now()
  const mine = line.last.then(() => {
    if (performance.now() - begun > LONGEST_WAIT_MS)
      throw busy('the changes of this site before this one took long')
    return work()
  })
  line.last = mine
    .catch(() => {})
    .then(() => {
      if (--line.waiting === 0) lines.delete(key)
    })
  return mine
}
