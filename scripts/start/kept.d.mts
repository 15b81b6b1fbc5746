import type { ChildProcess } from 'node:child_process'

export interface Kept {
  readonly name: string
  readonly ended: Promise<number>
  readonly pid: number
  readonly process: ChildProcess
  stop(): Promise<number>
}
export function keepRunning(
  name: string,
  start: () => ChildProcess,
  how: {
    signal: NodeJS.Signals
    hasStarted?: () => boolean
    isWell?: () => Promise<boolean>
    patienceMs?: number
    askEveryMs?: number
  },
): Kept
