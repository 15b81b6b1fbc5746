// ./mast backup FILE and ./mast restore FILE: the whole system as one file. A zip archive with a
// dump of the database, the memory of the stand-ins, a manifest
// with the digest of each, and, under a passphrase, the key that opens the secrets. Without the
// passphrase the secrets in the dump stay sealed.
import { createHash } from 'node:crypto'
import { spawnSync } from 'node:child_process'
import {
  chmodSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { join, resolve } from 'node:path'
import { parseArgs } from 'node:util'
import { complain } from './start/complain.mjs'
import { databaseFolder, stateFolder } from './start/places.mjs'
import { postgresPackage, programs, runningPostgres, startPostgres } from './start/postgres.mjs'
import { ensureDebian, ensurePackages, ensureState, run } from './start/requirements.mjs'
import { runningProcess, takeFolder } from './start/running.mjs'
import { adoptVaultKey, settings, standinsKey } from './start/settings.mjs'

const FORMAT = 'able-mast-backup'
const VERSION = 1
const MAX_FILE_BYTES = 4 * 1024 ** 3
const standinName = /^standins\/[a-z0-9-]{1,64}\.json$/

const sha256 = (bytes) => createHash('sha256').update(bytes).digest('hex')
/** Tells two keys apart without telling what they are. */
const fingerprint = (vaultKey) => sha256(`fingerprint ${vaultKey}`).slice(0, 16)

function readArguments(command, args) {
  try {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: {
        demo: { type: 'boolean', default: false },
        replace: { type: 'boolean', default: false },
        'passphrase-file': { type: 'string' },
      },
    })
    if (positionals.length !== 1) complain(`./mast ${command} needs the name of one file.`)
    if (command === 'backup' && values.replace) complain('--replace is for restore.')
    const from = process.env.MAST_CWD ?? process.cwd()
    const passphrase = values['passphrase-file']
      ? readFileSync(resolve(from, values['passphrase-file']), 'utf8').replace(/\r?\n$/, '')
      : (process.env.MAST_BACKUP_PASSPHRASE ?? null)
    if (passphrase !== null && passphrase.length < 10)
      complain('A passphrase has at least 10 characters.')
    return {
      file: resolve(from, positionals[0]),
      kind: values.demo ? 'demo' : 'start',
      replace: values.replace,
      passphrase,
    }
  } catch (error) {
    if (error.name === 'Complaint') throw error
    return complain(error.message)
  }
}

/**
 * The environment by which PostgreSQL's own programs find a database, so that no password stands on
 * a command line.
 */
function environment(url) {
  const u = new URL(url)
  return {
    ...process.env,
    PGHOST: u.hostname,
    PGPORT: u.port || '5432',
    PGUSER: decodeURIComponent(u.username),
    PGPASSWORD: decodeURIComponent(u.password),
    PGDATABASE: u.pathname.slice(1) || 'postgres',
  }
}
function program(name, args, url, input) {
  const done = spawnSync(join(programs(), name), args, {
    env: environment(url),
    input,
    maxBuffer: MAX_FILE_BYTES,
  })
  if (done.status !== 0)
    complain(
      `${name} failed: ${done.error?.message ?? done.stderr.toString().trim().split('\n').at(-1)}`,
    )
  return done.stdout
}
const query = (url, sql) =>
  program('psql', ['-XAtq', '-v', 'ON_ERROR_STOP=1', '-c', sql], url).toString().trim()

/** The database of this folder, started for as long as it is needed where it does not run. */
async function withDatabase(kind, work) {
  if (process.env.DATABASE_URL && kind === 'start') return work(process.env.DATABASE_URL)
  const folder = `${databaseFolder()}-${kind}`
  const there = runningPostgres(folder)
  if (there) return work(there)
  const { url, kept } = await startPostgres(folder)
  try {
    return await work(url)
  } finally {
    await kept.stop()
  }
}
const keyFor = (folder) => process.env.MAST_VAULT_KEY || settings(folder).vaultKey
/** Sealing is the server's own; it is TypeScript and runs in a process of its own. */
function sealing(what, input) {
  const done = spawnSync(process.execPath, ['--import', 'tsx', 'scripts/sealing.ts', what], {
    cwd: join(import.meta.dirname, '..'),
    input: JSON.stringify(input),
    encoding: 'utf8',
  })
  if (done.status !== 0)
    complain(
      `${what === 'world' ? 'What the stand-ins remember' : 'The key'} could not be ` +
        `${what === 'open' ? 'opened' : 'sealed'}: ${done.stderr.trim().split('\n').at(-1)}`,
    )
  return JSON.parse(done.stdout)
}

/** What earlier versions wrote of the stand-ins was not sealed; in a backup it is. */
function sealedWorld(bytes, name, vaultKey) {
  if (bytes[0] !== 0x7b) return bytes
  return Buffer.from(
    sealing('world', { key: standinsKey(vaultKey), name, text: bytes.toString('utf8') }),
    'base64',
  )
}

async function backup({ file, kind, passphrase }) {
  const folder = kind === 'demo' ? join(stateFolder, 'demo') : stateFolder
  if (!process.env.DATABASE_URL && !existsSync(`${databaseFolder()}-${kind}`))
    complain(
      `There is nothing to back up here yet; ./mast ${kind === 'demo' ? 'demo' : 'start'} makes the first data.`,
    )
  const { zipSync } = await import('fflate')
  const vaultKey = keyFor(folder)
  const parts = {}
  await withDatabase(kind, (url) => {
    parts['database.dump'] = program(
      'pg_dump',
      ['--format=custom', '--no-owner', '--no-privileges'],
      url,
    )
  })
  const standins = join(folder, 'standins')
  for (const name of existsSync(standins) ? readdirSync(standins) : [])
    if (standinName.test(`standins/${name}`))
      parts[`standins/${name}`] = sealedWorld(readFileSync(join(standins, name)), name, vaultKey)
  if (passphrase !== null)
    parts['key.json'] = Buffer.from(JSON.stringify(sealing('seal', { passphrase, text: vaultKey })))
  const manifest = {
    format: FORMAT,
    version: VERSION,
    at: new Date().toISOString(),
    key: fingerprint(vaultKey),
    digests: Object.fromEntries(
      Object.entries(parts).map(([name, bytes]) => [name, sha256(bytes)]),
    ),
  }
  const zip = zipSync({
    'manifest.json': [Buffer.from(JSON.stringify(manifest, null, 2)), { level: 6 }],
    ...Object.fromEntries(
      Object.entries(parts).map(([name, bytes]) => [
        name,
        [bytes, { level: name === 'database.dump' ? 0 : 6 }],
      ]),
    ),
  })
  // Whole or not at all: a name that was there before keeps its old content until the new one is
  // written.
  writeFileSync(`${file}.part`, zip, { mode: 0o600 })
  renameSync(`${file}.part`, file)
  chmodSync(file, 0o600)
  console.log(`${file}: ${Math.ceil(zip.length / 1024)} KiB, SHA-256 ${sha256(zip)}`)
  if (passphrase === null)
    console.log(
      `The key of its secrets is not in it (fingerprint ${manifest.key}). Keep ` +
        `${join(folder, 'settings.json')} apart, or give --passphrase-file.`,
    )
}

/** Every part of a backup, checked. */
async function readBackup(file) {
  if (!existsSync(file)) complain(`${file} is not there.`)
  if (statSync(file).size > MAX_FILE_BYTES) complain(`${file} is larger than a backup can be.`)
  const { unzipSync } = await import('fflate')
  let parts
  try {
    // Only names that a backup has: nothing in it decides where something is written.
    parts = unzipSync(readFileSync(file), {
      filter: ({ name, originalSize }) =>
        (['manifest.json', 'database.dump', 'key.json'].includes(name) || standinName.test(name)) &&
        originalSize < MAX_FILE_BYTES,
    })
  } catch {
    complain(`${file} is no backup, or it is cut off.`)
  }
  let manifest
  try {
    manifest = JSON.parse(Buffer.from(parts['manifest.json']).toString())
  } catch {
    complain(`${file} is no backup of Able Mast.`)
  }
  if (manifest.format !== FORMAT) complain(`${file} is no backup of Able Mast.`)
  if (manifest.version !== VERSION)
    complain(
      `${file} is of version ${manifest.version}; this is ${VERSION}. Restore it with the version that made it.`,
    )
  for (const [name, digest] of Object.entries(manifest.digests))
    if (!parts[name] || sha256(parts[name]) !== digest)
      complain(`${file} is damaged: the digest of ${name} does not fit.`)
  for (const name of Object.keys(parts))
    if (name !== 'manifest.json' && !manifest.digests[name])
      complain(`${file} is damaged: ${name} is not in its manifest.`)
  if (!parts['database.dump']) complain(`${file} is damaged: it has no database.`)
  return { parts, manifest }
}

async function restore({ file, kind, replace, passphrase }) {
  const { parts, manifest } = await readBackup(file)
  const folder = kind === 'demo' ? join(stateFolder, 'demo') : stateFolder
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const leave = takeFolder()
  try {
    let vaultKey = keyFor(folder)
    if (fingerprint(vaultKey) !== manifest.key) {
      if (!parts['key.json'])
        complain(
          `The secrets in ${file} were sealed with another key (fingerprint ${manifest.key}) ` +
            'and it is not in the file; put that key into MAST_VAULT_KEY and try again.',
        )
      if (passphrase === null)
        complain(`The key of ${file} is under a passphrase; give --passphrase-file.`)
      const opened = sealing('open', {
        passphrase,
        sealed: JSON.parse(Buffer.from(parts['key.json']).toString()),
      })
      if (opened === null || fingerprint(opened) !== manifest.key)
        complain(`The passphrase does not open the key of ${file}.`)
      if (process.env.MAST_VAULT_KEY)
        complain(
          'MAST_VAULT_KEY is set to another key than that of the backup; set it to that one, or leave it out.',
        )
      vaultKey = opened
    }
    await withDatabase(kind, async (url) => {
      const filled =
        query(url, "select count(*) from pg_tables where schemaname = 'public'") !== '0'
      if (filled && !replace && query(url, 'select count(*) from accounts') !== '0')
        complain('There is data here already; --replace throws it away for that of the backup.')
      // One transaction: either all of the backup is there afterwards, or all of what was.
      const script = program(
        'pg_restore',
        ['--no-owner', '--no-privileges', '--file=-'],
        url,
        parts['database.dump'],
      )
      program(
        'psql',
        ['-Xq', '-v', 'ON_ERROR_STOP=1', '--single-transaction', '-f', '-'],
        url,
        Buffer.concat([
          Buffer.from(
            'drop schema if exists drizzle cascade; drop schema if exists public cascade; create schema public;\n',
          ),
          script,
        ]),
      )
      if (
        (await run(process.execPath, ['--import', 'tsx', 'scripts/migrate.ts'], {
          env: { ...process.env, DATABASE_URL: url },
        })) !== 0
      )
        complain(
          'The restored database could not be brought to this version; look at the message above.',
        )
    })
    if (!process.env.MAST_VAULT_KEY) adoptVaultKey(folder, vaultKey)
    const standins = join(folder, 'standins')
    rmSync(standins, { recursive: true, force: true })
    mkdirSync(standins, { recursive: true, mode: 0o700 })
    for (const [name, bytes] of Object.entries(parts))
      if (standinName.test(name)) writeFileSync(join(folder, name), bytes, { mode: 0o600 })
    console.log(`Restored what was backed up on ${manifest.at}.`)
  } finally {
    leave()
  }
}

export async function backupCommand(command, args) {
  const how = readArguments(command, args)
  ensureState()
  await ensureDebian([postgresPackage])
  await ensurePackages()
  if (command === 'restore' && runningProcess())
    complain(
      `Able Mast runs from this folder (process ${runningProcess()}); stop it before restoring.`,
    )
  await (command === 'backup' ? backup : restore)(how)
}
