// Builds the application where its sources changed since it was last built.
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { complain } from './complain.mjs'
import { project } from './places.mjs'
import { run } from './requirements.mjs'

const SOURCES = [
  'app',
  'core',
  'protocol',
  'standins',
  'server',
  'nuxt.config.ts',
  'package-lock.json',
]

function digestOf(paths) {
  const hash = createHash('sha256')
  const walk = (path) => {
    if (statSync(path).isDirectory())
      for (const name of readdirSync(path).sort()) walk(join(path, name))
    else if (!path.endsWith('.test.ts')) hash.update(path).update('\0').update(readFileSync(path))
  }
  for (const p of paths) walk(join(project, p))
  return hash.digest('hex')
}

export async function ensureBuilt() {
  const mark = join(project, '.output', '.mast-built')
  const digest = digestOf(SOURCES)
  if (existsSync(mark) && readFileSync(mark, 'utf8') === digest) return
  console.log('Building the application (a minute or two) ...')
  const code = await run('npx', ['--no-install', 'nuxt', 'build', '--logLevel=silent'], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, NUXT_TELEMETRY_DISABLED: '1' },
  })
  if (code !== 0) complain('the application could not be built; look at the message above.')
  writeFileSync(mark, digest)
}
