/**
 * Work that must not pile up: so much of it at once, so much waiting, and whoever comes beyond that
 * is told to come again.
 */
import pLimit from 'p-limit'
import { Refused } from '../refusal'

export class Queue {
  private readonly limit: ReturnType<typeof pLimit>

  /** @param what of what there is too much, for the message */
  constructor(
    private readonly what: string,
    atOnce: number,
    private readonly mostWaiting: number,
  ) {
    this.limit = pLimit(atOnce)
  }

  /** @throws Refused where too much waits already. */
  async run<T>(work: () => Promise<T>): Promise<T> {
    if (this.limit.pendingCount >= this.mostWaiting)
      throw new Refused('busy', `too much ${this.what} at once; try again in a moment`)
    return this.limit(work)
  }
}

/** The same for each of many who ask: nobody takes all of what there is. */
export class Shares {
  private readonly held = new Map<string, number>()

  constructor(
    private readonly what: string,
    private readonly most: number,
  ) {}

  /** @throws Refused where somebody holds their whole share. Gives the way to leave it. */
  take(who: string): () => void {
    const held = this.held.get(who) ?? 0
    if (held >= this.most)
      throw new Refused(
        'too-often',
        `${this.most} ${this.what} at once are the most; wait until one is done`,
      )
    this.held.set(who, held + 1)
    let isLeft = false
    return () => {
      if (isLeft) return
      isLeft = true
      const now = this.held.get(who)! - 1
      if (now === 0) this.held.delete(who)
      else this.held.set(who, now)
    }
  }
}
