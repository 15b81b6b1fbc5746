// Keeps a second command out of the same folder.
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { complain } from './complain.mjs'
import { stateFolder } from './places.mjs'

const file = join(stateFolder, 'running')

/** The process that runs from this folder, or 0. */
export function runningProcess() {
  const pid = existsSync(file) ? Number(readFileSync(file, 'utf8')) : 0
  try { return pid > 0 && process.kill(pid, 0) ? pid : 0 } catch { return 0 }
}

/** Gives a way to leave the folder again. */
export function takeFolder() {
  const pid = runningProcess()
  if (pid) complain(`Able Mast runs from this folder already (process ${pid}); stop that one first.`)
  writeFileSync(file, String(process.pid))
  return () => rmSync(file, { force: true })
}
