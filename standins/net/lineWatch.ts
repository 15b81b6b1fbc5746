/**
 * How a gateway knows whether a line leads anywhere: rounds of questions that it sends by the line,
 * and what came back in time. It counts what it saw and knows nothing else.
 */
import type { EventQueue, Timer } from '../clock/eventQueue'

export interface WatchSetup {
  /** How many questions have to be answered for a round to be good; 0 asks nothing. */
  readonly need: number
  readonly intervalSeconds: number
  readonly answerSeconds: number
  readonly failures: number
  readonly successes: number
  readonly linkLoss: 'at-once' | 'counted'
}

export class LineWatch {
  /** As it is taken to be. */
  isAlive = true
  private lost = 0
  private answered = 0
  private firstEnough: number | null = null
  private timer: Timer | undefined
  private isStopped = false

  /**
   * @param ask sends the questions of a round; each answer in time is told
   * @param quietSeconds how long it has to be good after the successes
   */
  constructor(
    private readonly queue: EventQueue,
    private readonly setup: WatchSetup,
    private readonly ask: (answered: () => void) => void,
    private readonly hasSignal: () => boolean,
    private readonly quietSeconds: number,
    private readonly onChange: () => void,
  ) {}

  /** @param seconds until the first round */
  start(seconds: number): void {
    this.timer = this.queue.after(seconds, () => this.begin())
  }

  stop(): void {
    this.timer?.cancel()
    this.isStopped = true
  }

  /** The socket got its signal, or lost it. */
  link(up: boolean): void {
    if (!up && this.setup.linkLoss === 'at-once') this.fall()
  }

  private begin(): void {
    this.timer = this.queue.after(this.setup.intervalSeconds, () => this.begin())
    const began = this.queue.now
    let answers = 0
    let isOver = false
    if (this.setup.need > 0)
      this.ask(() => {
        answers++
        if (isOver || this.isStopped || answers < this.setup.need) return
        isOver = true
        this.good(began)
      })
    // Without questions the signal alone is looked at.
    else if (this.hasSignal()) {
      isOver = true
      this.good(began)
    }
    this.queue.after(this.setup.answerSeconds, () => {
      if (isOver || this.isStopped) return
      isOver = true
      this.bad()
    })
  }

  /** @param began when its round did, s: answers take now longer, now shorter */
  private good(began: number): void {
    this.lost = 0
    if (this.isAlive) return
    this.answered++
    if (this.answered < this.setup.successes) return
    this.firstEnough ??= began
    // Rounds come at sums of intervals, which are not exact.
    if (began - this.firstEnough >= this.quietSeconds - 1e-6) {
      this.isAlive = true
      this.onChange()
    }
  }

  private bad(): void {
    this.answered = 0
    this.firstEnough = null
    if (++this.lost >= this.setup.failures) this.fall()
  }

  private fall(): void {
    this.answered = 0
    this.firstEnough = null
    if (!this.isAlive) return
    this.isAlive = false
    this.lost = 0
    this.onChange()
  }
}
