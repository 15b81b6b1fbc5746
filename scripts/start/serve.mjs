// ./mast demo and ./mast start.
import { mkdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { ensureBuilt } from './build.mjs'
import { complain } from './complain.mjs'
import { databaseFolder, stateFolder } from './places.mjs'
import { isFree } from './ports.mjs'
import { postgresPackage } from './postgres.mjs'
import { ensureDebian, ensurePackages, ensureState, run } from './requirements.mjs'
import { takeFolder } from './running.mjs'
import { settings } from './settings.mjs'
import { startSystem } from './system.mjs'

const DEFAULT_PORT = 7350

function readArguments(args) {
  try {
    const { values } = parseArgs({
      args,
      options: {
        port: { type: 'string' },
        processes: { type: 'string' },
        fresh: { type: 'boolean', default: false },
      },
    })
    const port = values.port === undefined ? DEFAULT_PORT : Number(values.port)
    if (!Number.isInteger(port) || port < 1 || port > 65_535)
      complain(`--port takes a number from 1 to 65535, not '${values.port}'.`)
    const processes = values.processes === undefined ? 1 : Number(values.processes)
    if (!Number.isInteger(processes) || processes < 1 || processes > 16)
      complain(`--processes takes a number from 1 to 16, not '${values.processes}'.`)
    if (port + processes - 1 > 65_535)
      complain(
        `${processes} processes from port ${port} on go beyond 65535; choose a lower one with --port.`,
      )
    return { ports: Array.from({ length: processes }, (_, i) => port + i), fresh: values.fresh }
  } catch (error) {
    if (error.name === 'Complaint') throw error
    return complain(`${error.message} Known here are --port N, --processes N and --fresh.`)
  }
}

export async function serve(kind, args) {
  const { ports, fresh } = readArguments(args)
  if (fresh && kind !== 'demo')
    complain('--fresh is for the demo only; it would throw your data away.')
  for (const port of ports)
    if (!(await isFree(port))) complain(`Port ${port} is in use; choose another one with --port.`)
  ensureState()
  const leave = takeFolder()
  let system
  let stopping = false
  let finished
  const over = new Promise((resolve) => {
    finished = resolve
  })
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
    const started = await startSystem({
      ports,
      databaseFolder: own ? database : null,
      standinsFolder: join(folder, 'standins'),
      vaultKey: process.env.MAST_VAULT_KEY || kept.vaultKey,
    })
    system = started
    if (stopping) {
      await started.stop()
      return
    }
    if (kind === 'demo') {
      const code = await run(process.execPath, ['--import', 'tsx', 'demo/seed.ts'], {
        env: { ...process.env, MAST_ORIGIN: started.origin, MAST_DEMO_PASSWORD: kept.demoPassword },
      })
      if (code !== 0 && !stopping) {
        await stop(1)
        complain('the demo could not be set up; look at the message above.')
      }
    }
    if (stopping) return
    console.log(`\nAble Mast is at ${started.origins.join(' and ')}`)
    console.log(
      kind === 'demo'
        ? `Sign in as  installer  with  ${kept.demoPassword}`
        : 'The first visit makes the first account.',
    )
    console.log('Ctrl-C stops it.')
    for (const part of started.parts)
      void part.ended.then(async () => {
        if (!stopping) {
          console.error(`${part.name} ended by itself; stopping.`)
          await stop(1)
        }
      })
  } catch (error) {
    await stop(1)
    throw error
  }
  process.exitCode = await over
}
