/** A line as it is reckoned with. */
import type { Failing } from './failing'
import type { Loss, Need } from './loss'
import type { Watch } from './times'

export interface WatchedLine {
  readonly id: string
  /** Lines of one number share what leaves by their weights; the lowest that works is used. */
  readonly order: number
  readonly weight: number
  readonly failing: Failing
  readonly parts: readonly Failing[]
  /** null where nothing but the signal of the socket tells. */
  readonly watch: Watch | null
  /** What is asked beyond the provider's own box; 0 where its tests tell no more than its signal. */
  readonly targets: number
  readonly need: Need
  readonly loss: Loss
  /** Whether what stands before it keeps the signal of the socket when the line is dead. */
  readonly keepsSignal: boolean
  /** Until it leads anywhere again when it has its signal, s. */
  readonly startSeconds: number
  /** Until it leads anywhere when it has to take over, s; 0 where it is on all the time. */
  readonly coldSeconds: number
}
