/**
 * Threads for what would keep the event loop: analysis, whole sites in and out, large saves. Each
 * piece of work has a deadline, after which its thread is ended;
 * what is asked for beyond the queue, or beyond one account's share of it, is refused. The threads
 * run the sources, as the stand-ins do, with connections of their own.
 */
import { join } from 'node:path'
import { Piscina } from 'piscina'
import type { Refusal } from '@mast/api'
import { DatabaseAway } from '../db/away'
import { Refused, type RefusalKind } from '../refusal'
import { Shares } from './queue'
import type * as tasks from './tasks'

type Tasks = typeof tasks
type Given<N extends keyof Tasks> = Parameters<Tasks[N]>[0]
type Result<N extends keyof Tasks> = Awaited<ReturnType<Tasks[N]>>

const THREADS = 2
const MOST_WAITING = 64
const OF_ONE_ACCOUNT = 6
const HEAP_MB = 1024

let pool: Piscina | undefined
const shares = new Shares('pieces of heavy work of one account', OF_ONE_ACCOUNT)

function threads(): Piscina {
  pool ??= new Piscina({
    filename: join(process.cwd(), 'server/work/worker.mjs'),
    minThreads: 1,
    maxThreads: THREADS,
    idleTimeout: 60_000,
    maxQueue: MOST_WAITING,
    resourceLimits: { maxOldGenerationSizeMb: HEAP_MB },
  })
  return pool
}

/** Work that took longer than it may. */
export class TooLong extends Error {}

/**
 * @param accountId for whom; null where it is for nobody in particular
 * @throws TooLong after the deadline, Refused where there is too much of it
 */
export async function inThread<N extends keyof Tasks>(
  name: N,
  given: Given<N>,
  {
    accountId,
    maxMs,
    transfer = [],
  }: { accountId: string | null; maxMs: number; transfer?: ArrayBuffer[] },
): Promise<Result<N>> {
  const leave = accountId === null ? () => {} : shares.take(accountId)
  const signal = AbortSignal.timeout(maxMs)
  try {
    const outcome = (await threads().run({ name, given }, { signal, transferList: transfer })) as
      | { done: Result<N> }
      | { away: true }
      | { refused: { kind: RefusalKind; message: string; data: Refusal['data'] } }
      | { failed: string; code: string | undefined }
    if ('away' in outcome) throw new DatabaseAway()
    if ('refused' in outcome) {
      const { kind, message, data } = outcome.refused
      throw new Refused(kind, message, data)
    }
    if ('failed' in outcome)
      throw Object.assign(new Error(outcome.failed.split('\n')[0]), {
        stack: outcome.failed,
        code: outcome.code,
      })
    return outcome.done
  } catch (error) {
    if (signal.aborted) throw new TooLong(`${name} took longer than ${maxMs} ms`)
    if (error instanceof Error && /queue/i.test(error.message))
      throw new Refused('busy', 'too much heavy work waits already; try again in a moment')
    throw error
  } finally {
    leave()
  }
}

/** Has the first thread ready before somebody waits for it. */
export const warmThreads = (): void => {
  threads()
}

export async function endThreads(): Promise<void> {
  await pool?.destroy()
  pool = undefined
}
