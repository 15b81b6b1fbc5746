/**
 * Names that follow an address, against a real name server: the exported update is taken with the
 * right key, the first time and the second, answers may be kept as long as was said, and with a wrong
 * key nothing changes. Needs root, iproute2, named and nsupdate; without one of them the run fails.
 */
import { spawn, spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, it, onTestFinished } from 'vitest'
import { nameUpdateText } from '@mast/core/tunnels'
import { ip } from './judges/agent'

const NAME = 'harbour.boats.example'
const SECRET = Buffer.from('a rope of three strands, well laid').toString('base64')

it('an update is taken twice, is seen as long as it may be kept, and needs its key', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'able-mast-names-'))
  const space = `nu${process.pid}`
  ip([`netns add ${space}`])
  ip(['link set lo up'], space)
  const within = (program: string, args: string[], input = '') =>
    spawnSync('ip', ['netns', 'exec', space, program, ...args], {
      encoding: 'utf8',
      input,
      timeout: 20_000,
    })
  const keyFile = (name: string, secret: string): string => {
    const file = join(folder, name)
    writeFileSync(file, `key "line" { algorithm hmac-sha256; secret "${secret}"; };\n`)
    return file
  }
  const right = keyFile('right.key', SECRET)
  const wrong = keyFile('wrong.key', Buffer.from('another rope').toString('base64'))
  writeFileSync(
    join(folder, 'zone'),
    [
      '$TTL 60',
      '@ IN SOA ns.boats.example. crew.boats.example. 1 60 60 600 60',
      '@ IN NS ns.boats.example.',
      'ns IN A 127.0.0.1',
      '',
    ].join('\n'),
  )
  const conf = join(folder, 'named.conf')
  writeFileSync(
    conf,
    [
      `include "${right}";`,
      `options { directory "${folder}"; listen-on { 127.0.0.1; }; listen-on-v6 { none; }; recursion no;`,
      `pid-file "${folder}/pid"; session-keyfile "${folder}/session"; dnssec-validation no; };`,
      'controls { };',
      'zone "boats.example" { type primary; file "zone"; allow-update { key "line"; }; };',
      '',
    ].join('\n'),
  )
  const daemon = spawn('ip', ['netns', 'exec', space, '/usr/sbin/named', '-f', '-c', conf], {
    stdio: 'ignore',
  })
  onTestFinished(() => {
    const pids = spawnSync('ip', ['netns', 'pids', space], { encoding: 'utf8' }).stdout
    for (const pid of pids.split('\n').filter(Boolean)) process.kill(Number(pid), 'SIGKILL')
    daemon.kill('SIGKILL')
    spawnSync('ip', ['netns', 'del', space])
    rmSync(folder, { recursive: true, force: true })
  })
  const asked = (): string =>
    within('dig', [
      '@127.0.0.1',
      '+noall',
      '+answer',
      '+time=1',
      '+tries=1',
      NAME,
      'A',
    ]).stdout.trim()
  const isUp = (): boolean =>
    within('dig', [
      '@127.0.0.1',
      '+short',
      '+time=1',
      '+tries=1',
      'ns.boats.example',
      'A',
    ]).stdout.trim() === '127.0.0.1'
  const deadline = Date.now() + 20_000
  while (!isUp()) {
    if (Date.now() > deadline) throw new Error('named does not answer')
    await new Promise((r) => setTimeout(r, 100))
  }
  const update = (address: string, key: string) =>
    within(
      'nsupdate',
      ['-k', key],
      nameUpdateText(
        NAME,
        { how: 'update', server: '127.0.0.1', ttlSeconds: 300, keyRef: '' },
        address,
      ),
    )
  expect(asked()).toBe('')
  expect(update('203.0.113.9', right).status).toBe(0)
  expect(asked().split(/\s+/)).toEqual([`${NAME}.`, '300', 'IN', 'A', '203.0.113.9'])
  expect(update('203.0.113.77', right).status).toBe(0)
  expect(asked().split(/\s+/)).toEqual([`${NAME}.`, '300', 'IN', 'A', '203.0.113.77'])
  expect(update('203.0.113.5', wrong).status).not.toBe(0)
  expect(asked()).toContain('203.0.113.77')
}, 60_000)
