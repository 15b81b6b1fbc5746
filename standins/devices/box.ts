/** What every stand-in has: a housing with sockets, power, and a place where it stands. */
import type { EventQueue } from '../clock/eventQueue'
import { Socket } from '../net/socket'

export interface Surroundings {
  readonly queue: EventQueue
  readonly random: () => number
  /** Frames delivered so far. */
  readonly counter: { frames: number }
}

export class Box {
  powered = false
  /** Whether it stands where the plan has it, with its cables in. */
  placed = false
  readonly sockets = new Map<string, Socket>()

  constructor(
    readonly around: Surroundings,
    readonly id: string,
    portNames: readonly string[],
  ) {
    for (const name of portNames)
      this.sockets.set(name, new Socket(around.queue, this, name, around.counter))
  }

  setPower(on: boolean): void {
    if (this.powered === on) return
    this.powered = on
    for (const s of this.sockets.values()) {
      s.refresh()
      s.peer?.refresh()
    }
  }
}
