// What must be on the machine: Node.js, the npm packages of this project, Debian's packages.
import { spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { complain } from './complain.mjs'
import { project, stateFolder } from './places.mjs'

const LEAST = [20, 19]

export function checkNode(version = process.versions.node) {
  const [major, minor] = version.split('.').map(Number)
  if (major < LEAST[0] || (major === LEAST[0] && minor < LEAST[1]))
    complain(
      `Able Mast needs Node.js ${LEAST.join('.')} or newer; this is ${version}. Install a newer one and try again.`,
    )
}

export function run(file, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(file, args, { stdio: 'inherit', cwd: project, ...options })
    child.on('error', reject)
    child.on('close', (code, signal) => resolve(signal ? 128 : code))
  })
}

/**
 * Installs the npm packages where the lock file is another than the one last installed. Not with
 * "npm ci": that refuses a lock file
 * without the optional packages of other platforms, and newer npm writes it so.
 */
export async function ensurePackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(project, 'package-lock.json')))
    .digest('hex')
  const mark = join(project, 'node_modules', '.mast-installed')
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return
  console.log('Installing npm packages ...')
  const code = await run('npm', [
    'install',
    '--no-save',
    '--no-audit',
    '--no-fund',
    '--loglevel=error',
    '--ignore-scripts',
  ])
  if (code !== 0)
    complain(
      'npm could not install the packages; look at its message above (is the registry reachable?) and try again.',
    )
  if (
    (await run('npx', ['--no-install', 'nuxt', 'prepare'], {
      stdio: ['ignore', 'ignore', 'inherit'],
    })) !== 0
  )
    complain('the application could not be prepared; look at the message above.')
  writeFileSync(mark, lock)
}

const which = (command) => spawnSync('sh', ['-c', 'command -v "$1"', 'sh', command]).status === 0

/** Adds Debian packages, each told by a test of whether it is there already. */
export async function ensureDebian(wanted) {
  const missing = wanted
    .filter((w) => !(typeof w.there === 'string' ? which(w.there) : w.there()))
    .map((w) => w.package)
  if (missing.length === 0) return
  if (!which('apt-get'))
    complain(
      `Able Mast needs ${missing.join(', ')}; install ` +
        `${missing.length === 1 ? 'it' : 'them'} with your system's package manager and try ` +
        'again.',
    )
  const isRoot = process.getuid() === 0
  if (!isRoot && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status !== 0)
    complain(
      `Able Mast needs Debian's ${missing.join(', ')} and may not install ` +
        `${missing.length === 1 ? 'it' : 'them'} from this account; run: sudo apt-get install ` +
        `${missing.join(' ')}`,
    )
  console.log(`Installing Debian's ${missing.join(', ')} ...`)
  // The package would otherwise make and start a cluster of its own.
  if (
    missing.includes('postgresql') &&
    isRoot &&
    !existsSync('/etc/postgresql-common/createcluster.conf')
  ) {
    mkdirSync('/etc/postgresql-common', { recursive: true })
    writeFileSync('/etc/postgresql-common/createcluster.conf', 'create_main_cluster = false\n')
  }
  const apt = (...args) =>
    run(
      isRoot ? 'apt-get' : 'sudo',
      [
        ...(isRoot ? [] : ['-n', 'apt-get']),
        '-qq',
        '-o',
        'Dpkg::Options::=--force-confold',
        '-o',
        'Dpkg::Use-Pty=0',
        ...args,
      ],
      {
        env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
        stdio: ['ignore', 'ignore', 'inherit'],
      },
    )
  await apt('update')
  if ((await apt('install', '-y', '--no-install-recommends', ...missing)) !== 0)
    complain(
      `apt-get could not install ${missing.join(', ')}; look at its message above and try again.`,
    )
}

export function ensureState() {
  mkdirSync(stateFolder, { recursive: true, mode: 0o700 })
}
