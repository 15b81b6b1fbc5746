/**
 * Events in virtual time, in order; equal times in the order in which they were asked for, so that
 * a seed decides a run.
 */
import TinyQueue from 'tinyqueue'

interface Entry {
  readonly at: number
  readonly order: number
  run: (() => void) | null
}
export interface Timer {
  cancel(): void
}

export class EventQueue {
  /** Virtual time, s. */
  now = 0
  private order = 0
  private readonly queue = new TinyQueue<Entry>([], (a, b) => a.at - b.at || a.order - b.order)

  after(seconds: number, run: () => void): Timer {
    const entry: Entry = { at: this.now + Math.max(0, seconds), order: this.order++, run }
    this.queue.push(entry)
    return {
      cancel: () => {
        entry.run = null
      },
    }
  }

  get nextAt(): number | undefined {
    while (this.queue.peek() && !this.queue.peek()!.run) this.queue.pop()
    return this.queue.peek()?.at
  }

  /** Runs the next event; false where there is none at or before the limit. */
  step(limit: number): boolean {
    const at = this.nextAt
    if (at === undefined || at > limit) return false
    const entry = this.queue.pop()!
    this.now = at
    entry.run!()
    return true
  }

  get size(): number {
    return this.queue.length
  }
}
