// ./mast plan ...: needs the packages, nothing else.
import { ensurePackages, run } from './start/requirements.mjs'

export async function plan(args) {
  await ensurePackages()
  return run(process.execPath, ['--import', 'tsx', 'cli/main.ts', ...args], {
    env: { ...process.env, MAST_CLI: '1', MAST_CWD: process.cwd() },
  })
}
