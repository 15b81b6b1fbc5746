/**
 * What a place hears of networks: `iw dev wlan0 scan` as it prints it (from memory of its output), or
 * a table with name, address, channel and signal.
 */
import { editCall, newId, type Heard, type SitePlan } from '../plan'
import { numbersOf, takenBy, type Band, type Width } from '../radio/bands'
import { channelAt } from '../radio/channelAt'
import { levelOf } from '../radio/decibels'
import { headingKeys, mapColumns, readCsv, unguardCell, type Columns } from './csv'
import { normalHardwareAddress } from './equipmentCsv'
import { defineFormat, type LineProblem, type Reading } from './format'

/** No more of one scan than that are kept, the loudest first. */
const MOST_HEARD = 1000

interface Found {
  readonly heard: readonly Heard[]
  readonly problems: readonly LineProblem[]
  readonly leftOut: readonly LineProblem[]
}

/** `\x20` and the like stand for octets of the name. */
function nameOf(text: string): string {
  if (!text.includes('\\x')) return text.slice(0, 64)
  const octets: number[] = []
  for (let n = 0; n < text.length; n++) {
    const hex = /^\\x([0-9a-f]{2})/i.exec(text.slice(n, n + 4))
    if (hex) {
      octets.push(parseInt(hex[1]!, 16))
      n += 3
    } else octets.push(...new TextEncoder().encode(text[n]))
  }
  const name = new TextDecoder().decode(Uint8Array.from(octets))
  // A hidden name is sent as nothing, or as so many zeros.
  return [...name].every((c) => c === '\0') ? '' : name.slice(0, 64)
}

/** One network as `iw` tells it, line by line. */
interface Block {
  readonly line: number
  readonly address: string
  mhz?: number
  dbm?: number
  name: string
  widthMhz: Width
  security: Set<string>
}

function ofIw(text: string): Found {
  const problems: LineProblem[] = []
  const leftOut: LineProblem[] = []
  const heard: Heard[] = []
  let block: Block | undefined
  let within = ''
  const finish = (): void => {
    if (!block) return
    const { line, address, mhz, dbm, name, widthMhz, security } = block
    const at = mhz === undefined ? undefined : channelAt(mhz)
    if (mhz !== undefined && !at)
      leftOut.push({
        line,
        column: 1,
        reason: `${address} is at ${mhz} MHz, which no band here has`,
      })
    else if (!at || dbm === undefined)
      problems.push({
        line,
        column: 1,
        reason: `${address} has no ${at ? 'signal' : 'frequency'}: the list is cut here`,
      })
    else
      heard.push({
        ...{ name, address, dbm, ...channelOf(at) },
        widthMhz: takenBy({ ...at, widthMhz }) ? widthMhz : 20,
        security: securityWords(security),
      })
    block = undefined
  }
  text.split(/\r?\n/).forEach((raw, i) => {
    const opened = /^BSS ([0-9a-f:]{17})/i.exec(raw)
    if (opened) {
      finish()
      const address = normalHardwareAddress(opened[1]!)
      if (!address)
        problems.push({ line: i + 1, column: 5, reason: `'${opened[1]!}' is no hardware address` })
      else block = { line: i + 1, address, name: '', widthMhz: 20, security: new Set() }
      within = ''
      return
    }
    if (!block) return
    const heading = /^\t([A-Za-z][\w .-]*):/.exec(raw)
    if (heading) within = heading[1]!
    const freq = /^\tfreq: ([\d.]+)/.exec(raw)
    const signal = /^\tsignal: (-?[\d.]+) (dBm|%)/.exec(raw)
    const ssid = /^\tSSID: ?(.*)$/.exec(raw)
    if (freq) block.mhz = Number(freq[1])
    if (signal)
      block.dbm = clamp(signal[2] === '%' ? levelOf(Number(signal[1])) : Number(signal[1]))
    if (ssid) block.name = nameOf(ssid[1]!)
    if (/^\tWPA:/.test(raw)) block.security.add('WPA')
    if (/^\tRSN:/.test(raw)) block.security.add('RSN')
    if (/^\tcapability:.*Privacy/.test(raw)) block.security.add('Privacy')
    if (/Authentication suites:.*\bSAE\b/.test(raw)) block.security.add('SAE')
    if (/Authentication suites:.*\bPSK\b/.test(raw)) block.security.add('PSK')
    if (within === 'HT operation' && /secondary channel offset: (above|below)/.test(raw))
      block.widthMhz = Math.max(block.widthMhz, 40) as Width
    if (within === 'VHT operation') {
      const width = /channel width: (\d)/.exec(raw)
      if (width && width[1] !== '0')
        block.widthMhz = Math.max(block.widthMhz, width[1] === '1' ? 80 : 160) as Width
    }
  })
  finish()
  return { heard, problems, leftOut }
}
const clamp = (dbm: number): number => Math.min(0, Math.max(-120, dbm))
const channelOf = ({ band, primary }: { band: Band; primary: number }) => ({
  band,
  channel: primary,
})

const securityWords = (found: ReadonlySet<string>): string =>
  [
    ...(found.has('RSN') && (found.has('PSK') || !found.has('SAE')) ? ['WPA2'] : []),
    ...(found.has('SAE') ? ['WPA3'] : []),
    ...(found.has('WPA') ? ['WPA'] : []),
  ].join(' and ') || (found.has('Privacy') ? 'WEP' : 'open')

const columns: Columns<'name' | 'address' | 'channel' | 'signal' | 'band' | 'width' | 'security'> =
  {
    names: ['name', 'address', 'channel', 'signal', 'band', 'width', 'security'],
    aliases: {
      ssid: 'name',
      network: 'name',
      bssid: 'address',
      mac: 'address',
      'hardware address': 'address',
      rssi: 'signal',
      dbm: 'signal',
      level: 'signal',
      quality: 'signal',
      encryption: 'security',
      'channel width': 'width',
    },
    must: ['address', 'channel', 'signal'],
    of: 'networks heard',
  }

function ofTable(text: string): Found {
  const { records, problems } = readCsv(text)
  const [header, ...rows] = records
  if (!header)
    return {
      heard: [],
      problems: [...problems, { line: 1, column: 1, reason: 'the file is empty' }],
      leftOut: [],
    }
  const { mapping, problems: missing, unknown } = mapColumns(header, columns)
  if (missing.length > 0) return { heard: [], problems: [...problems, ...missing], leftOut: [] }
  const wrong: LineProblem[] = [...problems]
  const heard: Heard[] = []
  for (const { line, cells } of rows) {
    const cell = (c: (typeof columns.names)[number]): string =>
      mapping[c] < 0 ? '' : unguardCell(cells[mapping[c]] ?? '').trim()
    const no = (c: (typeof columns.names)[number], reason: string): void =>
      void wrong.push({ line, column: mapping[c] + 1, reason })
    const address = normalHardwareAddress(cell('address'))
    const channel = Number(cell('channel'))
    const signal = /^(-?\d+(?:[.,]\d+)?) ?(%|dbm)?$/i.exec(cell('signal'))
    const band = bandOf(cell('band'), channel)
    const width = Number(/^\d+/.exec(cell('width'))?.[0] ?? '20')
    if (!address) no('address', `'${cell('address')}' is not a hardware address`)
    else if (!band || !numbersOf[band].includes(channel))
      no(
        'channel',
        `'${cell('channel')}' is no channel${cell('band') ? ` of ${cell('band')}` : ''}`,
      )
    else if (!signal)
      no('signal', `'${cell('signal')}' is no level; expected for example -67 or 66 %`)
    else {
      const number = Number(signal[1]!.replace(',', '.'))
      const dbm = signal[2] === '%' || number > 0 ? levelOf(number) : number
      const widthMhz = width as Width
      heard.push({
        ...{ name: cell('name').slice(0, 64), address, band, channel, dbm: clamp(dbm) },
        widthMhz: takenBy({ band, primary: channel, widthMhz }) ? widthMhz : 20,
        security: cell('security').slice(0, 64),
      })
    }
  }
  return { heard, problems: wrong, leftOut: unknown }
}
/** Said, or what a number alone can only be. */
function bandOf(text: string, channel: number): Band | undefined {
  if (/^2([.,]4)?/.test(text)) return '2.4'
  if (/^5/.test(text)) return '5'
  if (/^6/.test(text)) return '6'
  return text === '' ? (channel <= 14 ? '2.4' : '5') : undefined
}

export const looksLikeIw = (text: string): boolean =>
  /^BSS [0-9a-f:]{17}/im.test(text.slice(0, 4000))

export function readScan(plan: SitePlan, text: string, fileName: string): Reading {
  const { heard, problems, leftOut } = looksLikeIw(text) ? ofIw(text) : ofTable(text)
  if (heard.length === 0) return { edits: [], said: 'nothing', problems, leftOut, newcomers: [] }
  const loudest = [...heard].sort((a, b) => b.dbm - a.dbm).slice(0, MOST_HEARD)
  const name = (fileName.replace(/\.[^.]*$/, '').trim() || 'Scan').slice(0, 60)
  return {
    edits: [editCall('addScan', { id: newId(plan, 'scan'), name, heard: loudest })],
    said:
      `${loudest.length} ${loudest.length === 1 ? 'network' : 'networks'} heard` +
      (heard.length > loudest.length ? `, the loudest of ${heard.length}` : ''),
    problems,
    leftOut,
    newcomers: [],
  }
}

export const airScan = defineFormat({
  id: 'air-scan',
  title: 'networks heard (iw scan, CSV)',
  sheet: 'wifi',
  files:
    'what `iw dev wlan0 scan` prints, or a table with the columns name, address, channel, signal',
  mediaType: 'text/plain',
  looksLike: (_, text) => {
    if (looksLikeIw(text)) return true
    const keys = headingKeys(text)
    return (
      keys.includes('channel') && keys.some((k) => ['bssid', 'ssid', 'signal', 'rssi'].includes(k))
    )
  },
  read: readScan,
})
