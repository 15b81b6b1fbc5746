import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { dunlinSlipway } from '../demo/dunlinSlipway'
import { quayside } from '../tests/sites/quayside'
import { runCommand } from './main'

const harbour = JSON.stringify(quayside())
const dunlin = JSON.stringify(dunlinSlipway())

describe('./mast plan', () => {
  it('check: 0 clean, 1 blockers, with findings as data', () => {
    expect(runCommand('check', dunlin, {})).toMatchObject({
      status: 0,
      json: { ok: true, summary: { blockers: 0 } },
    })
    const found = runCommand('check', harbour, {})
    expect(found).toMatchObject({
      status: 1,
      json: { summary: { blockers: 6, cautions: 0, notes: 1 } },
    })
    expect(found.text).toMatch(/blocker C-14 C-39 VLAN 90 Visitors stops at Cupboard switch port 2/)
  })
  it('unusable input is 2, with file, line and column', () => {
    const broken = JSON.stringify(quayside(), null, 2).replace('"vlanId": 40', '"vlanId": 4095')
    const outcome = runCommand('check', broken, {}, 'harbour.json')
    expect(outcome.status).toBe(2)
    expect(outcome.text).toMatch(
      /^harbour\.json:\d+:17: segments\.cameras\.vlanId: VLAN ids end at 4094/,
    )
    expect(runCommand('check', '{', {}).status).toBe(2)
    expect(runCommand('dance', harbour, {}).text).toMatch(/known are check, matrix, trace, export/)
  })
  it('matrix: a line a place', () =>
    expect(runCommand('matrix', dunlin, {}).text.split('\n')).toHaveLength(5))
  it('trace: 0 delivered, 1 not, 2 where a name is unknown', () => {
    expect(
      runCommand('trace', dunlin, { from: 'Visitor phone', to: 'internet', service: 'web' }),
    ).toMatchObject({ status: 0, json: { verdict: 'delivered' } })
    expect(
      runCommand('trace', dunlin, { from: 'visitors', to: 'Crew desk', service: 'svc-ping' }),
    ).toMatchObject({ status: 1, json: { verdict: 'blocked' } })
    expect(
      runCommand('trace', dunlin, { from: 'nobody', to: 'internet', service: 'web' }),
    ).toMatchObject({ status: 2 })
    expect(
      runCommand('trace', dunlin, { from: 'visitors', to: 'internet', service: 'smoke' }).text,
    ).toMatch(/there is no service 'smoke'/)
    expect(runCommand('trace', dunlin, {}).status).toBe(2)
  })
  it('export: what is exported as JSON is read again', () => {
    const out = runCommand('export', harbour, { format: 'json' })
    expect(runCommand('check', out.text, {}).json).toEqual(runCommand('check', harbour, {}).json)
    expect(runCommand('export', harbour, { format: 'pdf' }).text).toMatch(
      /known are json, equipment-csv, materials-csv, netplan, kea, dnsmasq, zones, address-csv, nftables, line-routes, wireguard, tunnel-routes, swanctl, name-updates, run-sheet, slips/,
    )
  })
  it('export: several files, each by its name; nothing to write is said', () => {
    const named = JSON.stringify({
      ...quayside(),
      site: { ...quayside().site, domain: 'harbour.internal' },
    })
    expect(Object.keys(runCommand('export', named, { format: 'zones' }).files!)).toEqual([
      'harbour.internal.zone',
      '10.20.10.in-addr.arpa.zone',
      '20.20.10.in-addr.arpa.zone',
      '40.20.10.in-addr.arpa.zone',
      '90.20.10.in-addr.arpa.zone',
      '91.20.10.in-addr.arpa.zone',
    ])
    expect(runCommand('export', harbour, { format: 'zones' })).toMatchObject({
      status: 2,
      text: 'the site has no domain, or no address inside to serve its names from',
    })
    expect(runCommand('export', harbour, { format: 'materials-csv' }).text).toMatch(
      /^group,what,count,length m,for\r\nequipment,Camera PoE,3,/,
    )
  })
  it('import: what a file says is in the plan afterwards, and what cannot be used is told', () => {
    const kea = runCommand('export', harbour, { format: 'kea' }).text
    expect(
      runCommand('import', harbour, { format: 'kea', input: { name: 'kea.conf', text: kea } }),
    ).toMatchObject({
      status: 0,
      text: 'Kea (DHCP), JSON: 4 the same',
    })
    const outcome = runCommand('import', harbour, {
      format: 'address-csv',
      input: {
        name: 'a.csv',
        text: 'vlan,segment,subnet\n41,Annex,10.20.41.0/24\n42,Loft,10.20.42.1/24\n',
      },
    })
    expect(outcome).toMatchObject({
      status: 1,
      text:
        "a.csv:3:3: host bits are set in '10.20.42.1/24'; the subnet is 10.20.42.0/24\n" +
        'Address plan (CSV): 1 new segment',
    })
    expect(
      runCommand('export', outcome.files!['plan.json']!, { format: 'address-csv' }).text,
    ).toContain('41,Annex,staff,20,50,10.20.41.0/24')
    expect(runCommand('import', harbour, { format: 'kea' }).text).toMatch(
      /import needs the file to bring in/,
    )
    // What a file is, is seen from it.
    expect(
      runCommand('import', harbour, { input: { name: 'kea.conf', text: kea } }).json,
    ).toMatchObject({ format: 'kea', said: '4 the same' })
    expect(runCommand('import', harbour, { format: 'pdf' }).text).toMatch(
      /no format 'pdf' to read; known are equipment-csv, geojson, netplan, kea, dnsmasq, zones, outages-csv, air-scan, walk-csv, address-csv/,
    )
  })
  it('as a process: exit status, --json, --out', () => {
    const folder = mkdtempSync(join(tmpdir(), 'able-mast-cli-'))
    writeFileSync(join(folder, 'plan.json'), harbour)
    const run = (...args: string[]) =>
      spawnSync(process.execPath, ['--import', 'tsx', 'cli/main.ts', ...args], {
        encoding: 'utf8',
        env: { ...process.env, MAST_CLI: '1', MAST_CWD: folder },
      })
    const check = run('check', 'plan.json', '--json')
    expect(check.status).toBe(1)
    expect((JSON.parse(check.stdout) as { summary: object }).summary).toEqual({
      blockers: 6,
      cautions: 0,
      notes: 1,
    })
    expect(run('export', 'plan.json', '--format', 'run-sheet', '--out', 'sheets').status).toBe(0)
    expect(readFileSync(join(folder, 'sheets', 'run-sheet.md'), 'utf8')).toMatch(
      /^# Run sheet of Kittiwake Harbour/,
    )
    expect(run('check', 'nothing.json')).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('cannot be read'),
    })
    expect(run('check', 'plan.json', '--colour').status).toBe(2)
  })
})

describe('what nobody should hand it', () => {
  const folder = mkdtempSync(join(tmpdir(), 'able-mast-hostile-'))
  const file = (name: string, content: string | Uint8Array): string => {
    writeFileSync(join(folder, name), content)
    return join(folder, name)
  }
  const mast = (...args: string[]) => {
    const ran = spawnSync(process.execPath, ['--import', 'tsx', 'cli/main.ts', ...args], {
      encoding: 'utf8',
      env: { ...process.env, MAST_CLI: '1' },
      timeout: 60_000,
    })
    return { status: ran.status, out: ran.stdout, said: ran.stderr }
  }
  const spoilt = (change: (plan: ReturnType<typeof quayside>) => void): string => {
    const plan = structuredClone(quayside())
    change(plan)
    return JSON.stringify(plan)
  }

  it.each<[string, string, RegExp]>([
    ['a deep nest', '['.repeat(50_000), /1:65: nested deeper than 64 levels/],
    [
      'an id that is a word of the language',
      spoilt((p) => (p.devices.switch!.profileId = 'constructor')),
      /devices\.switch\.profileId: an id is/,
    ],
    [
      'a lost id',
      harbour.replace('"switch":{', '"__proto__":{},"switch":{'),
      /'__proto__' can be no id/,
    ],
    [
      'an address beyond addresses',
      spoilt((p) => (Object.values(p.profiles)[0]!.factory.address = '999.1.1.1/99')),
      /not an IPv4 address with a length/,
    ],
    ['no country', spoilt((p) => (p.site.country = 'ZZ')), /'ZZ' is no country/],
    [
      'no time zone',
      spoilt((p) => (p.site.timeZone = 'Mars/Phobos')),
      /'Mars\/Phobos' is no time zone/,
    ],
    [
      'a key that is none',
      JSON.stringify({ ...quayside(), moons: 2 }, null, 2),
      /^plan:[1-9]\d{2,}:\d+: moons: a plan has no 'moons' here$/m,
    ],
    [
      'a part that is missing',
      spoilt((p) => void delete (p as { site?: object }).site),
      /'site' is missing/,
    ],
  ])('%s is refused with its place', (_, text, said) => {
    const outcome = runCommand('check', text, {})
    expect(outcome.status).toBe(2)
    expect(outcome.text).toMatch(said)
  })
  it('a mark before the text is no part of it', () =>
    expect(runCommand('check', `\ufeff${harbour}`, {}).status).toBe(1))
  it('a hundred thousand wrong lines name the first hundred', () => {
    const outcome = runCommand('check', 'junk\n'.repeat(100_000), {})
    expect((outcome.json as { problems: object[] }).problems).toHaveLength(100)
  })
  it('a file that is far too large is not read through', () =>
    expect(runCommand('check', ' '.repeat(100_000_000), {}).text).toMatch(/million characters/))

  it('says so in JSON too, shows what a terminal would obey, and knows a missing file', () => {
    const missing = mast('check', join(folder, 'none.json'), '--json')
    expect(missing.status).toBe(2)
    expect(JSON.parse(missing.out)).toMatchObject({
      ok: false,
      problems: [{ reason: expect.stringMatching(/cannot be read; is the path right/) }],
    })
    const coloured = file(
      'coloured.json',
      spoilt((p) => (p.site.country = '\u001b[2J')),
    )
    const { said } = mast('check', coloured)
    expect(said).not.toContain('\u001b')
    const latin = file(
      'latin.json',
      Buffer.from(harbour.replace('Harbour', 'H\u00e4fen'), 'latin1'),
    )
    expect(mast('check', latin).said).toMatch(/octet [0-9a-f]{2} is not UTF-8/)
    const plan = file('plan.json', harbour)
    expect(mast('import', plan, join(folder, 'none.csv')).said).toMatch(/none\.csv cannot be read/)
    expect(mast('export', plan, '--format', 'json', '--out', join(plan, 'below'))).toMatchObject({
      status: 2,
      said: expect.stringMatching(/cannot be written \(ENOTDIR\)/),
    })
    expect(
      mast('trace', plan, '--from', 'gateway', '--to', 'internet', '--service', 'svc-web'),
    ).toMatchObject({ status: 2, said: expect.stringMatching(/asks nobody in a plan/) })
  })
})
