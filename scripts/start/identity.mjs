// Which process a number means. Numbers are used again, the sooner the smaller the machine or the
// container; with the moment at which a process began it is one.
import { readFileSync } from 'node:fs'

/**
 * When a process began, in ticks since the start of the machine, with the machine's own start;
 * undefined where there is no such process (proc(5), /proc/PID/stat, field 22).
 */
export function beganAt(pid) {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8')
    // The name of the program stands in parentheses and may have any character.
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ')
    return `${readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim()} ${fields[19]}`
  } catch {
    return undefined
  }
}

/** Whether a process lives, of whatever account. */
export function isAlive(pid) {
  if (!Number.isInteger(pid) || pid <= 0) return false
  try {
    process.kill(pid, 0)
    return true
  } catch (error) {
    return error.code === 'EPERM'
  }
}
