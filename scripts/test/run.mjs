// ./mast test [unit|conformance|e2e|attacks|judges|fuzz|load]: runs the stages, counts what passed
// and failed, says so in the last line.
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { ensureBuilt } from '../start/build.mjs'
import { complain } from '../start/complain.mjs'
import { stateFolder } from '../start/places.mjs'
import { postgresPackage } from '../start/postgres.mjs'
import { ensureDebian, ensurePackages, ensureState, run } from '../start/requirements.mjs'

const results = join(stateFolder, 'results')
const chromium = { package: 'chromium', there: () => existsSync('/usr/bin/chromium') }
const python = { package: 'python3', there: 'python3' }
const nftables = { package: 'nftables', there: () => existsSync('/usr/sbin/nft') }
const openssl = { package: 'openssl', there: 'openssl' }
const iproute = { package: 'iproute2', there: 'ip' }
const kea = { package: 'kea-dhcp4-server', there: () => existsSync('/usr/sbin/kea-dhcp4') }
const dnsmasq = { package: 'dnsmasq-base', there: () => existsSync('/usr/sbin/dnsmasq') }
const bind = { package: 'bind9-utils', there: 'named-checkzone' }
const named = { package: 'bind9', there: () => existsSync('/usr/sbin/named') }
const dig = { package: 'bind9-dnsutils', there: 'dig' }
const udhcpc = {
  package: 'udhcpc',
  there: () => existsSync('/usr/sbin/udhcpc') || existsSync('/sbin/udhcpc'),
}
const netplan = { package: 'netplan.io', there: () => existsSync('/usr/sbin/netplan') }
const geodesics = { package: 'geographiclib-tools', there: 'GeodSolve' }
const wireguard = { package: 'wireguard-tools', there: 'wg' }
const userspaceWireguard = { package: 'wireguard-go', there: 'wireguard-go' }
/** The daemon of IKEv2, what asks it, and plugins of it, each by a file of its own. */
const plugin = (name) => () => existsSync(`/usr/lib/ipsec/plugins/libstrongswan-${name}.so`)
const ikeDaemon = {
  package: 'charon-systemd',
  there: () => existsSync('/usr/sbin/charon-systemd'),
}
const ikeControl = { package: 'strongswan-swanctl', there: () => existsSync('/usr/sbin/swanctl') }
const ikePlugins = { package: 'libstrongswan-standard-plugins', there: plugin('openssl') }
const ikeCarrier = { package: 'libcharon-extra-plugins', there: plugin('kernel-libipsec') }
const ping = { package: 'iputils-ping', there: 'ping' }
const procps = { package: 'procps', there: 'sysctl' }

/** A stage that passes or fails as a whole. */
const whole = (file, args) => async () =>
  (await run(file, args)) === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 }

async function vitest(projectName, { only = [], env = {} } = {}) {
  const file = join(results, `${projectName}.json`)
  rmSync(file, { force: true })
  const code = await run(
    'npx',
    [
      '--no-install',
      'vitest',
      'run',
      ...only,
      '--project',
      projectName,
      '--reporter=dot',
      '--reporter=json',
      `--outputFile.json=${file}`,
    ],
    { env: { ...process.env, ...env } },
  )
  if (!existsSync(file)) return { passed: 0, failed: 1 }
  const {
    numPassedTests: passed,
    numFailedTests,
    numPendingTests,
    numTodoTests,
  } = JSON.parse(readFileSync(file, 'utf8'))
  const failed = numFailedTests + numPendingTests + numTodoTests
  return { passed, failed: failed === 0 && code !== 0 ? 1 : failed }
}

async function playwright() {
  await ensureBuilt()
  const file = join(results, 'e2e.json')
  rmSync(file, { force: true })
  const code = await run('npx', ['--no-install', 'playwright', 'test'], {
    env: {
      ...process.env,
      PLAYWRIGHT_JSON_OUTPUT_NAME: file,
      PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1',
    },
  })
  if (!existsSync(file)) return { passed: 0, failed: 1 }
  const {
    expected: passed,
    unexpected,
    flaky,
    skipped,
  } = JSON.parse(readFileSync(file, 'utf8')).stats
  const failed = unexpected + flaky + skipped
  return { passed, failed: failed === 0 && code !== 0 ? 1 : failed }
}

const stages = [
  {
    name: 'layout',
    group: 'static',
    beside: true,
    needs: [],
    run: whole('npx', ['--no-install', 'prettier', '--check', '.', '--log-level', 'warn']),
  },
  {
    name: 'lint',
    group: 'static',
    beside: true,
    needs: [],
    run: whole('npx', ['--no-install', 'eslint', '.', '--max-warnings', '0']),
  },
  {
    name: 'circles',
    group: 'static',
    beside: true,
    needs: [],
    run: whole('npx', [
      '--no-install',
      'depcruise',
      ...[
        'api',
        'core',
        'protocol',
        'standins',
        'cli',
        'demo',
        'server',
        'app',
        'scripts',
        'tests',
      ],
      ...['--config', '.dependency-cruiser.mjs', '--output-type', 'err'],
    ]),
  },
  {
    name: 'unused',
    group: 'static',
    beside: true,
    needs: [],
    run: whole('npx', [
      ...['--no-install', 'knip', '--no-progress'],
      ...['--include', 'exports,types,files,dependencies'],
    ]),
  },
  {
    name: 'types',
    group: 'static',
    needs: [],
    run: whole('npx', ['--no-install', 'vue-tsc', '-b', '--noEmit']),
  },
  { name: 'unit', group: 'unit', beside: true, needs: [], run: () => vitest('unit') },
  {
    name: 'conformance',
    group: 'conformance',
    needs: [
      python,
      postgresPackage,
      nftables,
      openssl,
      iproute,
      procps,
      kea,
      dnsmasq,
      bind,
      named,
      dig,
      udhcpc,
      netplan,
      geodesics,
      wireguard,
      userspaceWireguard,
      ikeDaemon,
      ikeControl,
      ikePlugins,
      ikeCarrier,
      ping,
    ],
    run: () => vitest('conformance'),
  },
  { name: 'e2e', group: 'e2e', needs: [postgresPackage, chromium], run: playwright },
  {
    name: 'attacks',
    group: 'e2e',
    needs: [postgresPackage],
    run: async () => {
      await ensureBuilt()
      return vitest('attacks')
    },
  },
  {
    name: 'load',
    group: 'load',
    sampled: true,
    needs: [postgresPackage],
    run: async () => {
      await ensureBuilt()
      return vitest('load')
    },
  },
  {
    name: 'judges, whole',
    group: 'judges',
    onDemand: true,
    needs: [
      nftables,
      iproute,
      procps,
      python,
      kea,
      dnsmasq,
      bind,
      named,
      dig,
      udhcpc,
      wireguard,
      userspaceWireguard,
    ],
    run: () =>
      vitest('conformance', {
        only: ['judges', 'serving', 'tunnels'],
        env: { MAST_KERNEL_SITES: '100', MAST_SERVED_SITES: '20', MAST_TUNNEL_SITES: '40' },
      }),
  },
  {
    name: 'fuzz, whole',
    group: 'fuzz',
    onDemand: true,
    needs: [postgresPackage],
    run: async () => {
      await ensureBuilt()
      return vitest('attacks', {
        only: ['fuzz'],
        env: { MAST_FUZZ: process.env.MAST_FUZZ ?? '1000000' },
      })
    },
  },
  {
    name: 'files, whole',
    group: 'fuzz',
    onDemand: true,
    needs: [],
    run: () =>
      vitest('unit', {
        only: ['core/formats/anyFile'],
        env: { MAST_FUZZ_FILES: process.env.MAST_FUZZ_FILES ?? '1000000' },
      }),
  },
  {
    name: 'load, whole',
    group: 'load',
    onDemand: true,
    needs: [postgresPackage],
    run: async () => {
      await ensureBuilt()
      return vitest('load', { env: { MAST_LOAD: 'whole' } })
    },
  },
]

export async function test(args) {
  const [group] = args
  const chosen = group
    ? stages.filter((s) => (s.group === group || s.name === group) && !s.sampled)
    : stages.filter((s) => !s.onDemand)
  if (chosen.length === 0)
    complain(
      `there are no tests '${group}'; known are ${[...new Set(stages.map((s) => s.group))].join(', ')}`,
    )
  ensureState()
  mkdirSync(results, { recursive: true })
  await ensureDebian([...new Set(chosen.flatMap((s) => s.needs))])
  await ensurePackages()
  const total = { passed: 0, failed: 0 }
  const carryOut = async (stage) => {
    console.log(`\n== ${stage.name}`)
    const { passed, failed } = await stage.run()
    console.log(`-- ${stage.name}: ${passed} of ${passed + failed} passed`)
    total.passed += passed
    total.failed += failed
  }
  const inTurn = async (list) => {
    for (const stage of list) await carryOut(stage)
  }
  // Checking the types keeps one core busy for minutes; what only reads the sources goes beside it
  // on the other.
  const isFirst = (stage) => stage.name === 'types' || stage.beside
  await Promise.all([
    inTurn(chosen.filter((s) => s.name === 'types')),
    inTurn(chosen.filter((s) => s.beside)),
  ])
  await inTurn(chosen.filter((s) => !isFirst(s)))
  console.log(`\n${total.passed} passed, ${total.failed} failed`)
  return total.failed === 0 && total.passed > 0 ? 0 : 1
}
