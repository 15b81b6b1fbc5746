// The entry of a thread. The sources are TypeScript; tsx reads them.
import { tsImport } from 'tsx/esm/api'

const tasks = await tsImport('./tasks.ts', import.meta.url)
const { Refused } = await tsImport('../refusal.ts', import.meta.url)
const { isDatabaseAway, innermost } = await tsImport('../db/away.ts', import.meta.url)

/** Errors do not cross the border of a thread whole; what matters of them does. */
export default async function carryOut({ name, given }) {
  try {
    return { done: await tasks[name](given) }
  } catch (error) {
    if (isDatabaseAway(error)) return { away: true }
    // What is refused with words, and what two of the database's own did to each other, is so here
    // as it is there.
    return error instanceof Refused
      ? { refused: { kind: error.kind, message: error.message, data: error.data } }
      : { failed: innermost(error).stack ?? String(error), code: innermost(error).code }
  }
}
