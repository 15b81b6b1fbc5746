// ./mast bench [addresses|analysis|standins|uplinks|wifi|place|controller|browser ...] [--json]
import { existsSync } from 'node:fs'
import { ensureBuilt } from '../start/build.mjs'
import { postgresPackage } from '../start/postgres.mjs'
import { ensureDebian, ensurePackages, ensureState, run } from '../start/requirements.mjs'

export async function bench(args) {
  ensureState()
  await ensureDebian([
    postgresPackage,
    { package: 'python3', there: 'python3' },
    { package: 'chromium', there: () => existsSync('/usr/bin/chromium') },
  ])
  await ensurePackages()
  await ensureBuilt()
  return run(process.execPath, ['--import', 'tsx', 'scripts/bench/main.ts', ...args])
}
