import { spawnSync } from 'node:child_process'
import { chmodSync, cpSync, mkdtempSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, it } from 'vitest'
import { checkNode } from './requirements.mjs'

it.each(['18.20.0', '20.18.9', '16.0.0'])('refuses Node.js %s in one sentence', (version) =>
  expect(() => checkNode(version)).toThrow(
    `Able Mast needs Node.js 20.19 or newer; this is ${version}. Install a newer one and try again.`,
  ),
)
it.each(['20.19.0', '22.1.0', '24.0.0'])('takes Node.js %s', (version) =>
  expect(() => checkNode(version)).not.toThrow(),
)

/**
 * A folder that is the whole PATH, with the named programs of the real one and the given scripts.
 */
function pathWith(scripts: Record<string, string>, ...programs: string[]): string {
  const folder = mkdtempSync(join(tmpdir(), 'able-mast-path-'))
  for (const p of programs)
    symlinkSync(
      spawnSync('sh', ['-c', `command -v ${p}`], { encoding: 'utf8' }).stdout.trim(),
      join(folder, p),
    )
  for (const [name, text] of Object.entries(scripts)) {
    writeFileSync(join(folder, name), `#!/bin/sh\n${text}\n`)
    chmodSync(join(folder, name), 0o755)
  }
  return folder
}

it('says what to do where there is no Node.js at all', () => {
  const run = spawnSync('./mast', ['demo'], {
    encoding: 'utf8',
    env: { PATH: pathWith({}, 'sh', 'dirname') },
  })
  expect(run.status).toBe(1)
  expect(run.stderr).toMatch(/^Able Mast needs Node\.js 20\.19 or newer; install it/)
  expect(run.stderr.trim().split('\n')).toHaveLength(1)
})

it('says what to run where a package is missing and this account may not install it', () => {
  const folder = mkdtempSync(join(tmpdir(), 'able-mast-sudo-'))
  cpSync('scripts', join(folder, 'scripts'), { recursive: true })
  chmodSync(folder, 0o755)
  const program =
    `process.getuid = () => 1000; import('${folder}/scripts/start/requirements.mjs').then((r) ` +
    `=> r.ensureDebian([{ package: 'postgresql', there: () => false }])).catch((e) => { ` +
    'console.error(e.message); process.exit(1) })'
  const run = spawnSync(process.execPath, ['-e', program], {
    encoding: 'utf8',
    env: { PATH: pathWith({ 'apt-get': 'exit 1', sudo: 'exit 1' }, 'sh') },
  })
  expect(run.status).toBe(1)
  expect(run.stderr.trim()).toBe(
    "Able Mast needs Debian's postgresql and may not install it from this account; run: sudo " +
      'apt-get install postgresql',
  )
})
