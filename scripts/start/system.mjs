// The running system: database, server, stand-ins. Started in order, stopped in the other order,
// nothing left behind.
import { spawn } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { mkdirSync } from 'node:fs'
import { complain } from './complain.mjs'
import { keepRunning } from './kept.mjs'
import { freePort } from './ports.mjs'
import { project } from './places.mjs'
import { startPostgres } from './postgres.mjs'
import { run } from './requirements.mjs'
import { standinsKey } from './settings.mjs'

/**
 * A part of the system in a process of its own. It ends with this one: losing the channel to it is
 * its sign.
 */
function part(name, args, env, hasStarted, isWell) {
  return keepRunning(
    name,
    () =>
      spawn(process.execPath, args, {
        cwd: project,
        env: { ...process.env, ...env },
        stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
        detached: true,
      }),
    { signal: 'SIGTERM', hasStarted, isWell },
  )
}

const ANSWER_MS = 5000
const asked = (url, headers = {}) => fetch(url, { headers, signal: AbortSignal.timeout(ANSWER_MS) })
/**
 * A server that says that its database is away is well itself; starting it again would help nobody.
 */
async function serverIsWell(origin) {
  const answer = await asked(`${origin}/controller/v1/ready`)
  return answer.ok || (answer.status === 503 && (await answer.json()).database === 'away')
}

async function until(what, check, part) {
  const deadline = Date.now() + 60_000
  let over = false
  void part?.ended.then(() => {
    over = true
  })
  while (!(await check())) {
    if (over) complain(`${what} ended while it was starting; look at its message above.`)
    if (Date.now() > deadline) complain(`${what} did not start within a minute.`)
    await new Promise((r) => setTimeout(r, 60))
  }
}

/**
 * @param {{ ports: number[], databaseFolder: string | null, standinsFolder: string, vaultKey:
 * string, otherControllers?: string }} how
 * `otherControllers` names controllers that stand-ins may call beside this one, as `name=origin`.
 * `databaseFolder` null takes the database at DATABASE_URL; every port gets a server process, all
 * of them on one database and one set of stand-ins.
 */
export async function startSystem(how) {
  const parts = []
  const stop = async () => {
    for (const p of parts.splice(0).reverse()) await p.stop()
  }
  try {
    let url = process.env.DATABASE_URL
    if (how.databaseFolder) {
      const postgres = await startPostgres(how.databaseFolder)
      parts.push(postgres.kept)
      url = postgres.url
    }
    if (
      (await run(process.execPath, ['--import', 'tsx', 'scripts/migrate.ts'], {
        env: { ...process.env, DATABASE_URL: url },
      })) !== 0
    )
      complain('the database could not be brought to this version; look at the message above.')
    const origins = how.ports.map((port) => `http://127.0.0.1:${port}`)
    const standins = { port: await freePort(), token: randomBytes(24).toString('base64url') }
    // Devices from their box are served by the first process alone, on a port of their own.
    const bootstrapPort = Number(process.env.MAST_BOOTSTRAP_PORT) || (await freePort())
    const shared = {
      DATABASE_URL: url,
      MAST_STANDINS_PORT: String(standins.port),
      MAST_STANDINS_TOKEN: standins.token,
    }
    let started = false
    mkdirSync(how.standinsFolder, { recursive: true, mode: 0o700 })
    const standinsAnswer = async () =>
      (
        await asked(`http://127.0.0.1:${standins.port}/ready`, {
          authorization: `Bearer ${standins.token}`,
        })
      ).ok
    const servers = how.ports.map((port, i) =>
      part(
        how.ports.length > 1 ? `server ${i + 1}` : 'the server',
        ['.output/server/index.mjs'],
        {
          ...shared,
          MAST_BOOTSTRAP_PORT: i === 0 ? String(bootstrapPort) : '',
          MAST_VAULT_KEY: how.vaultKey,
          HOST: '127.0.0.1',
          NITRO_HOST: '127.0.0.1',
          PORT: String(port),
          NITRO_PORT: String(port),
          NODE_ENV: 'production',
        },
        () => started,
        () => serverIsWell(origins[i]),
      ),
    )
    const bench = part(
      'the stand-ins',
      ['--import', 'tsx', 'standins/main.ts'],
      {
        MAST_CONTROLLER_ORIGIN: origins[0],
        MAST_BOOTSTRAP_ORIGIN: `https://127.0.0.1:${bootstrapPort}`,
        MAST_STANDINS_PORT: shared.MAST_STANDINS_PORT,
        MAST_STANDINS_TOKEN: standins.token,
        MAST_OTHER_CONTROLLERS: how.otherControllers ?? '',
        MAST_STANDINS_FOLDER: how.standinsFolder,
        MAST_STANDINS_KEY: standinsKey(how.vaultKey),
      },
      () => started,
      standinsAnswer,
    )
    parts.push(...servers, bench)
    await Promise.all([
      ...servers.map((server, i) =>
        until(
          'The server',
          () =>
            asked(`${origins[i]}/controller/v1/ready`).then(
              (r) => r.ok,
              () => false,
            ),
          server,
        ),
      ),
      until('The stand-ins', () => standinsAnswer().catch(() => false), bench),
    ])
    started = true
    const bootstrapOrigin = `https://127.0.0.1:${bootstrapPort}`
    return { origin: origins[0], origins, bootstrapOrigin, url, parts, stop }
  } catch (error) {
    await stop()
    throw error
  }
}
