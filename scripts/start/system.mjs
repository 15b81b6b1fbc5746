// The running system: database, server, stand-ins. Started in order, stopped in the other order, nothing left behind.
import { spawn } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { complain } from './complain.mjs'
import { freePort } from './ports.mjs'
import { project } from './places.mjs'
import { startPostgres } from './postgres.mjs'
import { run } from './requirements.mjs'

const GRACE_MS = 8000

function child(name, args, env) {
  const process_ = spawn(process.execPath, args, { cwd: project, env: { ...process.env, ...env }, stdio: ['ignore', 'inherit', 'inherit', 'ipc'], detached: true })
  const ended = new Promise((resolve) => process_.on('close', (code) => resolve(code)))
  let gone = false
  void ended.then(() => { gone = true })
  return {
    name, ended, process: process_,
    stop: async () => {
      if (gone) return
      process_.kill('SIGTERM')
      const timer = setTimeout(() => { if (!gone) process_.kill('SIGKILL') }, GRACE_MS)
      await ended
      clearTimeout(timer)
    },
  }
}

async function until(what, check, part) {
  const deadline = Date.now() + 60_000
  let over = false
  void part?.ended.then(() => { over = true })
  while (!(await check())) {
    if (over) complain(`${what} ended while it was starting; look at its message above.`)
    if (Date.now() > deadline) complain(`${what} did not start within a minute.`)
    await new Promise((r) => setTimeout(r, 60))
  }
}

/**
 * @param {{ port: number, databaseFolder: string | null, standinsFolder: string, vaultKey: string }} how
 * `databaseFolder` null takes the database at DATABASE_URL.
 */
export async function startSystem(how) {
  const parts = []
  const stop = async () => { for (const p of parts.splice(0).reverse()) await p.stop() }
  try {
    let url = process.env.DATABASE_URL
    if (how.databaseFolder) {
      const postgres = await startPostgres(how.databaseFolder)
      parts.push({ name: 'PostgreSQL', ...postgres })
      url = postgres.url
    }
    if ((await run(process.execPath, ['--import', 'tsx', 'scripts/migrate.ts'], { env: { ...process.env, DATABASE_URL: url } })) !== 0) complain('the database could not be brought to this version; look at the message above.')
    const origin = `http://127.0.0.1:${how.port}`
    const standins = { port: await freePort(), token: randomBytes(24).toString('base64url') }
    const shared = { DATABASE_URL: url, MAST_STANDINS_PORT: String(standins.port), MAST_STANDINS_TOKEN: standins.token }
    const server = child('the server', ['.output/server/index.mjs'], { ...shared, MAST_VAULT_KEY: how.vaultKey, HOST: '127.0.0.1', NITRO_HOST: '127.0.0.1', PORT: String(how.port), NITRO_PORT: String(how.port), NODE_ENV: 'production' })
    parts.push(server)
    await until('The server', () => fetch(`${origin}/controller/v1/ready`).then((r) => r.ok, () => false), server)
    mkdirSync(how.standinsFolder, { recursive: true, mode: 0o700 })
    const bench = child('the stand-ins', ['--import', 'tsx', 'standins/main.ts'], { MAST_CONTROLLER_ORIGIN: origin, MAST_STANDINS_PORT: shared.MAST_STANDINS_PORT, MAST_STANDINS_TOKEN: standins.token, MAST_STANDINS_FOLDER: how.standinsFolder })
    parts.push(bench)
    await until('The stand-ins', () => fetch(`http://127.0.0.1:${standins.port}/ready`, { headers: { authorization: `Bearer ${standins.token}` } }).then((r) => r.ok, () => false), bench)
    return { origin, url, parts, stop, folder: join(project, '.mast') }
  } catch (error) {
    await stop()
    throw error
  }
}
