/** Errors do not cross the border of a thread whole; what matters of them does. */
import { innermost, isDatabaseAway } from '../db/away'
import { Refused } from '../refusal'
import * as tasks from './tasks'

type Task = (given: unknown) => Promise<unknown>

export async function carryOut({ name, given }: { name: string; given: unknown }): Promise<object> {
  try {
    return { done: await (tasks as unknown as Readonly<Record<string, Task>>)[name]!(given) }
  } catch (error) {
    if (isDatabaseAway(error)) return { away: true }
    // What is refused with words, and what two of the database's own did to each other, is so here
    // as it is there.
    if (error instanceof Refused)
      return { refused: { kind: error.kind, message: error.message, data: error.data } }
    const inner = innermost(error) as Error & { code?: string }
    return { failed: inner.stack ?? String(error), code: inner.code }
  }
}
