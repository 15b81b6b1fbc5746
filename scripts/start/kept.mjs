// A process that is started again when it dies without having been told to, as a power cut to one part must not be the end of the whole.
const FIRST_PAUSE_MS = 50
const LONGEST_PAUSE_MS = 5000
/** What lived so long was no failure to start. */
const LIVED_MS = 1000
const GRACE_MS = 8000

/**
 * @param {string} name for messages
 * @param {() => import('node:child_process').ChildProcess} start
 * @param {{ signal: NodeJS.Signals, hasStarted?: () => boolean }} how `signal` asks it to end; `hasStarted` tells whether it ever worked: what dies before that is not tried again
 */
export function keepRunning(name, start, { signal, hasStarted = () => true }) {
  let stopping = false
  let child
  let pause = FIRST_PAUSE_MS
  let timer
  let finish
  const ended = new Promise((resolve) => { finish = resolve })
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
  run()
  return {
    name, ended,
    get pid() { return child.pid },
    get process() { return child },
    async stop() {
      if (stopping) return ended
      stopping = true
      clearTimeout(timer)
      if (child.exitCode !== null || child.signalCode !== null) { finish(child.exitCode ?? 0); return ended }
      child.kill(signal)
      const hard = setTimeout(() => child.kill('SIGKILL'), GRACE_MS)
      await ended
      clearTimeout(hard)
      return ended
    },
  }
}
