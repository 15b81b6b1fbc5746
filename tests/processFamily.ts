/** A process and all that it began, by /proc (proc(5)). */
import { readdirSync, readFileSync } from 'node:fs'

const parentOf = (pid: string): number | undefined => {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8')
    return Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[1])
  } catch {
    return undefined
  }
}

export function processFamily(pid: number): number[] {
  const parents = readdirSync('/proc')
    .filter((n) => /^\d+$/.test(n))
    .map((n) => [Number(n), parentOf(n)] as const)
  const all = [pid]
  for (let i = 0; i < all.length; i++)
    for (const [child, parent] of parents) if (parent === all[i]) all.push(child)
  return all
}

/** Holds a process with all that it began where it stands; gives the way to let it go on. */
export function heldStill(pid: number): () => void {
  const family = processFamily(pid)
  const tell = (signal: NodeJS.Signals): void => {
    for (const p of family)
      try {
        process.kill(p, signal)
      } catch {
        /* it is gone */
      }
  }
  tell('SIGSTOP')
  return () => tell('SIGCONT')
}
