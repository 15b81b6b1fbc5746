// A process that is started again when it dies without having been told to, or lives and no longer
// answers: one part must not be the end of the whole.
const FIRST_PAUSE_MS = 50
const LONGEST_PAUSE_MS = 5000
/** What lived so long was no failure to start. */
const LIVED_MS = 1000
const GRACE_MS = 8000
const ASK_EVERY_MS = 2500

/**
 * @param {string} name for messages
 * @param {() => import('node:child_process').ChildProcess} start
 * @param {{ signal: NodeJS.Signals, hasStarted?: () => boolean, isWell?: () => Promise<boolean>,
 * patienceMs?: number, askEveryMs?: number }} how `signal` asks it to end; `hasStarted` tells
 * whether it ever worked: what dies before that is not tried again; `isWell` asks it, and ends by
 * itself; what has not been well for `patienceMs` is ended and started again
 */
export function keepRunning(
  name,
  start,
  { signal, hasStarted = () => true, isWell, patienceMs = 15_000, askEveryMs = ASK_EVERY_MS },
) {
  let stopping = false
  let child
  let pause = FIRST_PAUSE_MS
  let timer
  let finish
  let asking
  const ended = new Promise((resolve) => {
    finish = resolve
  })
  const run = () => {
    const born = Date.now()
    child = start()
    child.once('close', (code) => {
      if (stopping || !hasStarted()) return finish(code ?? 1)
      if (Date.now() - born > LIVED_MS) pause = FIRST_PAUSE_MS
      else console.error(`${name} ended as soon as it was started; trying again.`)
      timer = setTimeout(run, pause)
      pause = Math.min(LONGEST_PAUSE_MS, pause * 2)
    })
  }
  /** Asks again and again; an answer that comes for a process that is gone counts for nothing. */
  const watch = async () => {
    let well = Date.now()
    let about = child
    while (!stopping) {
      await new Promise((r) => {
        asking = setTimeout(r, askEveryMs)
      })
      if (about !== child || !hasStarted()) {
        about = child
        well = Date.now()
      }
      if (stopping) return
      const isFine = await isWell().catch(() => false)
      if (isFine || about !== child) {
        well = Date.now()
        continue
      }
      if (Date.now() - well < patienceMs || child.exitCode !== null || child.signalCode !== null)
        continue
      console.error(
        `${name} has not answered for ${Math.round((Date.now() - well) / 1000)} s; starting it again.`,
      )
      child.kill('SIGKILL')
      well = Date.now()
    }
  }
  run()
  if (isWell) void watch()
  return {
    name,
    ended,
    get pid() {
      return child.pid
    },
    get process() {
      return child
    },
    async stop() {
      if (stopping) return ended
      stopping = true
      clearTimeout(timer)
      clearTimeout(asking)
      if (child.exitCode !== null || child.signalCode !== null) {
        finish(child.exitCode ?? 0)
        return ended
      }
      child.kill(signal)
      const hard = setTimeout(() => child.kill('SIGKILL'), GRACE_MS)
      await ended
      clearTimeout(hard)
      return ended
    },
  }
}
