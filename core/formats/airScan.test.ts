import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { applyEdits } from '../plan'
import { formatOf, readScan, readWalk } from '.'

const plan = kittiwakeHarbour()
/** As `iw` of Debian 12 prints it (from memory). */
const iw = [
  'BSS 02:71:00:00:00:01(on wlan0)',
  '\tlast seen: 1204.220s [boottime]',
  '\tfreq: 2437',
  '\tbeacon interval: 100 TUs',
  '\tcapability: ESS Privacy ShortSlotTime (0x0411)',
  '\tsignal: -71.00 dBm',
  '\tSSID: Caf\\xc3\\xa9 upstairs',
  '\tRSN:\t * Version: 1',
  '\t\t * Group cipher: CCMP',
  '\t\t * Authentication suites: PSK SAE',
  '\tHT operation:',
  '\t\t * primary channel: 6',
  '\t\t * secondary channel offset: above',
  'BSS 02:71:00:00:00:02(on wlan0) -- associated',
  '\tfreq: 5220.0',
  '\tsignal: -48.00 dBm',
  '\tcapability: ESS Privacy (0x0011)',
  '\tSSID: \\x00\\x00\\x00\\x00',
  '\tVHT operation:',
  '\t\t * channel width: 1 (80 MHz)',
  'BSS 02:71:00:00:00:03(on wlan0)',
  '\tfreq: 5955',
  '\tsignal: -80.00 dBm',
  '\tSSID: Lantern',
  'BSS 02:71:00:00:00:04(on wlan0)',
  '\tfreq: 58320',
  '\tsignal: -60.00 dBm',
].join('\n')

const heardBy = (text: string, name = 'quay.txt') => {
  const read = readScan(plan, text, name)
  const after = applyEdits(plan, [...read.edits])
  const scan = Object.values(after.scans).find((s) => !Object.hasOwn(plan.scans, s.id))
  return { read, scan }
}

describe('a scan of the air', () => {
  it('as iw prints it', () => {
    expect(formatOf('scan.txt', iw)?.id).toBe('air-scan')
    const { read, scan } = heardBy(iw)
    expect(read.problems).toEqual([])
    expect(read.leftOut).toMatchObject([{ line: 25, reason: expect.stringMatching(/58320 MHz/) }])
    expect(scan!.name).toBe('quay')
    expect(
      scan!.heard.map(({ name, band, channel, widthMhz, security }) => [
        name,
        band,
        channel,
        widthMhz,
        security,
      ]),
    ).toEqual([
      ['', '5', 44, 80, 'WEP'],
      ['Café upstairs', '2.4', 6, 40, 'WPA2 and WPA3'],
      ['Lantern', '6', 1, 20, 'open'],
    ])
  })
  it('that is cut says where, and keeps what is whole', () => {
    const { read, scan } = heardBy(iw.slice(0, iw.indexOf('\tsignal: -48')))
    expect(scan!.heard).toHaveLength(1)
    expect(read.problems).toMatchObject([
      { line: 14, reason: expect.stringMatching(/no signal: the list is cut here/) },
    ])
  })
  it('as a table, in dBm or percent, with commas of other languages', () => {
    const table = [
      'SSID;BSSID;Channel;Signal;Band;Width',
      'Chowder;02:73:00:00:00:01;11;34 %;2.4 GHz;20',
      'Tern;02-71-00-00-00-11;36;-79,5;;80 MHz',
      'Odd;nonsense;1;-60;;',
      'Odd;02:73:00:00:00:02;15;-60;2,4;',
      'Odd;02:73:00:00:00:03;1;loud;;',
    ].join('\r\n')
    expect(formatOf('heard.csv', table)?.id).toBe('air-scan')
    const { read, scan } = heardBy(table)
    expect(scan!.heard.map((h) => [h.name, h.band, h.channel, h.dbm, h.widthMhz])).toEqual([
      ['Tern', '5', 36, -79.5, 80],
      ['Chowder', '2.4', 11, -83, 20],
    ])
    expect(read.problems.map((p) => `${p.line}:${p.column} ${p.reason}`)).toEqual([
      "4:2 'nonsense' is not a hardware address",
      "5:3 '15' is no channel of 2,4",
      "6:4 'loud' is no level; expected for example -67 or 66 %",
    ])
  })
  it('of nothing is nothing, with a reason', () => {
    for (const text of ['', 'name,address\nx,y', 'BSS 02:71:00:00:00:01(on wlan0)'])
      expect(readScan(plan, text, 'a').problems.length, text).toBeGreaterThan(0)
  })
})

describe('readings walked', () => {
  const walk = [
    'x,y,dBm,AP,band,floor',
    '4,5,-50,Office AP,5,"Harbour Office, ground floor"',
    '5,5,60 %,office-ap,5 GHz,office-floor',
    '6,5,-61,office-ap,2.4,',
    '60,5,-61,office-ap,2.4,office-floor',
    '6,5,-61,nobody,2.4,office-floor',
    '6,five,-61,office-ap,2.4,office-floor',
    '6,5,-61,office-ap,7,office-floor',
  ].join('\n')
  it('are one walk for each access point and band, and what is wrong is named', () => {
    expect(formatOf('walk.csv', walk)?.id).toBe('walk-csv')
    const read = readWalk(plan, walk)
    const after = applyEdits(plan, [...read.edits])
    const added = Object.values(after.walks).filter((w) => !Object.hasOwn(plan.walks, w.id))
    expect(added.map((w) => [w.floorId, w.deviceId, w.band, w.readings.map((r) => r.dbm)])).toEqual(
      [
        ['office-floor', 'office-ap', '5', [-50, -70]],
        ['office-floor', 'office-ap', '2.4', [-61]],
      ],
    )
    expect(read.said).toBe('3 readings of Office AP')
    expect(read.problems.map((p) => `${p.line}:${p.column} ${p.reason}`)).toEqual([
      expect.stringMatching(/^5:1 60, 5 m lies outside Harbour Office/),
      "6:4 there is no device 'nobody'",
      "7:2 'five' is no number of metres",
      "8:5 '7' is no band; known are 2.4, 5 and 6",
    ])
  })
  it('ten thousand and more are taken whole', () => {
    const many = Array.from(
      { length: 12_000 },
      (_, n) => `${n % 20},${n % 13},-60,office-ap,5,office-floor`,
    )
    const read = readWalk(plan, ['x,y,signal,access point,band,plan', ...many].join('\n'))
    expect(read.problems).toEqual([])
    expect(read.edits).toHaveLength(2)
    const after = applyEdits(plan, [...read.edits])
    expect(
      Object.values(after.walks).reduce((sum, w) => sum + w.readings.length, 0),
    ).toBeGreaterThan(12_000)
  })
})
