// ./mast demo and ./mast start.
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { ensureBuilt } from './build.mjs'
import { complain } from './complain.mjs'
import { databaseFolder, stateFolder } from './places.mjs'
import { isFree } from './ports.mjs'
import { postgresPackage } from './postgres.mjs'
import { ensureDebian, ensurePackages, ensureState, run } from './requirements.mjs'
import { settings } from './settings.mjs'
import { startSystem } from './system.mjs'

const DEFAULT_PORT = 7350

function readArguments(args) {
  try {
    const { values } = parseArgs({ args, options: { port: { type: 'string' }, fresh: { type: 'boolean', default: false } } })
    const port = values.port === undefined ? DEFAULT_PORT : Number(values.port)
    if (!Number.isInteger(port) || port < 1 || port > 65_535) complain(`--port takes a number from 1 to 65535, not '${values.port}'.`)
    return { port, fresh: values.fresh }
  } catch (error) {
    if (error.name === 'Complaint') throw error
    return complain(`${error.message} Known here are --port N and --fresh.`)
  }
}

/** Keeps a second command out of the same folder. */
function takeFolder() {
  const file = join(stateFolder, 'running')
  const pid = existsSync(file) ? Number(readFileSync(file, 'utf8')) : 0
  let runs = false
  try { runs = pid > 0 && process.kill(pid, 0) } catch { runs = false }
  if (runs) complain(`Able Mast runs from this folder already (process ${pid}); stop that one first.`)
  writeFileSync(file, String(process.pid))
  return () => rmSync(file, { force: true })
}

export async function serve(kind, args) {
  const { port, fresh } = readArguments(args)
  if (fresh && kind !== 'demo') complain('--fresh is for the demo only; it would throw your data away.')
  if (!(await isFree(port))) complain(`Port ${port} is in use; choose another one with --port.`)
  ensureState()
  const leave = takeFolder()
  let system
  let stopping = false
  let finished
  const over = new Promise((resolve) => { finished = resolve })
  const stop = async (code) => {
    if (stopping) return
    stopping = true
    await system?.stop()
    leave()
    finished(code)
  }
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0))
  try {
    const own = !process.env.DATABASE_URL || kind === 'demo'
    if (own) await ensureDebian([postgresPackage])
    await ensurePackages()
    await ensureBuilt()
    const folder = kind === 'demo' ? join(stateFolder, 'demo') : stateFolder
    const database = `${databaseFolder()}-${kind}`
    if (fresh) for (const f of [folder, database]) rmSync(f, { recursive: true, force: true })
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    const kept = settings(folder)
    if (stopping) return
    const started = await startSystem({ port, databaseFolder: own ? database : null, standinsFolder: join(folder, 'standins'), vaultKey: kept.vaultKey })
    system = started
    if (stopping) { await started.stop(); return }
    if (kind === 'demo') {
      const code = await run(process.execPath, ['--import', 'tsx', 'demo/seed.ts'], { env: { ...process.env, MAST_ORIGIN: started.origin, MAST_DEMO_PASSWORD: kept.demoPassword } })
      if (code !== 0 && !stopping) { await stop(1); complain('the demo could not be set up; look at the message above.') }
    }
    if (stopping) return
    console.log(`\nAble Mast is at ${started.origin}`)
    console.log(kind === 'demo' ? `Sign in as  installer  with  ${kept.demoPassword}` : 'The first visit makes the first account.')
    console.log('Ctrl-C stops it.')
    for (const part of started.parts) void part.ended.then(async () => { if (!stopping) { console.error(`${part.name} ended by itself; stopping.`); await stop(1) } })
  } catch (error) {
    await stop(1)
    throw error
  }
  process.exitCode = await over
}
