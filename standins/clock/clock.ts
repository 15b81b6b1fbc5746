/**
 * Couples virtual time to the wall clock at a speed of 1 to 1000. Stands still while real input or
 * output is under way.
 */
import type { EventQueue } from './eventQueue'

export const MIN_SPEED = 1
export const MAX_SPEED = 1000
const TICK_MS = 20
/** Nobody waits for a proof longer than this makes it last. */
export const HURRY_SPEED = MAX_SPEED
/** Longest stretch of work before other input of the process gets its turn, ms. */
const WORK_MS = 15

export class Clock {
  private holds = 0
  private hurries = 0
  private timer: NodeJS.Timeout | undefined
  private lastMs = 0

  /**
   * @param onFault what an event threw; the clock stands still then, and nothing else of the
   * process is touched
   */
  constructor(
    private readonly queue: EventQueue,
    public speed: number,
    private readonly nowMs: () => number = () => performance.now(),
    private readonly onFault?: (error: unknown) => void,
  ) {}

  start(): void {
    if (this.timer) return
    this.lastMs = this.nowMs()
    this.timer = setInterval(() => {
      try {
        this.tick()
      } catch (error) {
        if (!this.onFault) throw error
        this.stop()
        this.onFault(error)
      }
    }, TICK_MS)
  }

  stop(): void {
    clearInterval(this.timer)
    this.timer = undefined
  }

  /** Something real is under way. */
  get isHeld(): boolean {
    return this.holds > 0
  }

  setSpeed(speed: number): void {
    this.speed = Math.min(MAX_SPEED, Math.max(MIN_SPEED, speed))
  }

  /** Runs something real; virtual time waits for it. */
  async hold<T>(work: () => Promise<T>): Promise<T> {
    this.holds++
    try {
      return await work()
    } finally {
      this.holds--
      if (this.holds === 0) this.lastMs = this.nowMs()
    }
  }

  /** Runs something that takes virtual time and is waited for: at no less than a speed of its own. */
  async hurry<T>(work: () => Promise<T>): Promise<T> {
    this.hurries++
    try {
      return await work()
    } finally {
      this.hurries--
    }
  }

  private tick(): void {
    const start = this.nowMs()
    if (this.holds > 0) return
    const speed = this.hurries > 0 ? Math.max(this.speed, HURRY_SPEED) : this.speed
    const target = this.queue.now + ((start - this.lastMs) / 1000) * speed
    this.lastMs = start
    while (this.holds === 0 && this.queue.step(target)) if (this.nowMs() - start > WORK_MS) return
    if (this.holds === 0 && this.queue.now < target) this.queue.now = target
  }
}
