/**
 * A clock that never goes back: what a device's own clock was set back by is added from then on. That
 * it jumps ahead cannot be told from a device that slept.
 */
export class SteadyClock {
  private lastMs = -Infinity
  private addedMs = 0

  /** @param wallMs as the device has it, ms */
  at(wallMs: number): number {
    const now = wallMs + this.addedMs
    if (now < this.lastMs) this.addedMs += this.lastMs - now
    return (this.lastMs = Math.max(now, this.lastMs))
  }
}
