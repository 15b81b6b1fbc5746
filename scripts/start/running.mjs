// One system a folder: a file says which process has it, and since when that process lives.
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { complain } from './complain.mjs'
import { beganAt, isAlive } from './identity.mjs'
import { stateFolder } from './places.mjs'

/**
 * The process that a file names, or 0 where that one is gone: a number that another process has by
 * now, or this one itself, is nobody who runs here.
 */
export function processOf(file) {
  const [pid, ...began] = existsSync(file) ? readFileSync(file, 'utf8').trim().split(' ') : []
  const number = Number(pid)
  if (!isAlive(number) || number === process.pid) return 0
  // Files of earlier versions name no moment; where the machine does not tell one, the number has
  // to do.
  const now = beganAt(number)
  return began.length === 0 || now === undefined || began.join(' ') === now ? number : 0
}

const file = join(stateFolder, 'running')
export const runningProcess = () => processOf(file)

/** Gives a way to leave the folder again. */
export function takeFolder() {
  const pid = runningProcess()
  if (pid)
    complain(`Able Mast runs from this folder already (process ${pid}); stop that one first.`)
  writeFileSync(file, `${process.pid} ${beganAt(process.pid) ?? ''}`.trim())
  return () => rmSync(file, { force: true })
}
