/** What `wg show` prints, as people read it or as a dump (wg(8)). */
export interface ShownPeer {
  readonly publicKey: string
  /** Where it was heard last; null where nobody called. */
  readonly endpoint: string | null
  readonly allowed: readonly string[]
  /** s ago; null where the two never shook hands. */
  readonly handshakeAgo: number | null
  readonly receivedOctets: number
  readonly sentOctets: number
  /** s; 0 sends none. */
  readonly keepaliveSeconds: number
}
export interface ShownInterface {
  readonly name: string
  readonly publicKey: string | null
  readonly listenPort: number | null
  readonly peers: readonly ShownPeer[]
}
interface Problem {
  readonly line: number
  readonly reason: string
}
export interface Shown {
  readonly interfaces: readonly ShownInterface[]
  readonly problems: readonly Problem[]
}

const UNITS: Readonly<Record<string, number>> = {
  B: 1,
  KiB: 1024,
  MiB: 1024 ** 2,
  GiB: 1024 ** 3,
  TiB: 1024 ** 4,
}
const SPANS: Readonly<Record<string, number>> = {
  second: 1,
  minute: 60,
  hour: 3600,
  day: 86_400,
  year: 31_536_000,
}

/** "1 minute, 12 seconds ago", "Now", "(none)". */
function agoOf(text: string): number | null {
  if (/^now$/i.test(text)) return 0
  let seconds = 0
  let isAny = false
  for (const [, n, unit] of text.matchAll(/(\d+) (second|minute|hour|day|year)s?/g)) {
    seconds += Number(n) * SPANS[unit!]!
    isAny = true
  }
  return isAny ? seconds : null
}
const octetsOf = (number: string, unit: string): number => Math.round(Number(number) * UNITS[unit]!)
const none = (text: string): string | null => (text === '(none)' || text === '' ? null : text)
const list = (text: string): string[] =>
  none(text) === null
    ? []
    : text
        .split(',')
        .map((t) => t.trim())
        .filter(Boolean)

type Draft<T> = { -readonly [K in keyof T]: T[K] }
type Filling = Omit<Draft<ShownInterface>, 'peers'> & { peers: Draft<ShownPeer>[] }
const peerOf = (publicKey: string): Draft<ShownPeer> => ({
  publicKey,
  endpoint: null,
  allowed: [],
  handshakeAgo: null,
  receivedOctets: 0,
  sentOctets: 0,
  keepaliveSeconds: 0,
})

/** @param now s since 1970: a dump says when, not how long ago */
export function readShow(text: string, now: number): Shown {
  return /^[^\t\n]+\t[^\t\n]+\t/m.test(text) ? readDump(text, now) : readPrinted(text)
}

function readPrinted(text: string): Shown {
  const interfaces: Filling[] = []
  const problems: Problem[] = []
  for (const [i, raw] of text.split(/\r\n|\n|\r/).entries()) {
    const at = /^\s*([a-z ]+):\s*(.*)$/i.exec(raw)
    if (!at) {
      if (raw.trim() !== '')
        problems.push({ line: i + 1, reason: `'${raw.trim().slice(0, 60)}' is none of its lines` })
      continue
    }
    const [name, value] = [at[1]!.trim().toLowerCase(), at[2]!.trim()]
    if (name === 'interface') {
      interfaces.push({ name: value, publicKey: null, listenPort: null, peers: [] })
      continue
    }
    const own = interfaces.at(-1)
    if (!own) {
      problems.push({ line: i + 1, reason: `'${name}' stands before any interface` })
      continue
    }
    if (name === 'peer') {
      own.peers.push(peerOf(value))
      continue
    }
    const peer = own.peers.at(-1)
    if (name === 'public key') own.publicKey = none(value)
    else if (name === 'listening port') own.listenPort = Number(value)
    else if (!peer || name === 'private key' || name === 'preshared key' || name === 'fwmark')
      continue
    else if (name === 'endpoint') peer.endpoint = none(value)
    else if (name === 'allowed ips') peer.allowed = list(value)
    else if (name === 'latest handshake') peer.handshakeAgo = agoOf(value)
    else if (name === 'persistent keepalive') peer.keepaliveSeconds = agoOf(value) ?? 0
    else if (name === 'transfer') {
      const m = /^([\d.]+) (\w+) received, ([\d.]+) (\w+) sent$/.exec(value)
      if (m && UNITS[m[2]!] && UNITS[m[4]!]) {
        peer.receivedOctets = octetsOf(m[1]!, m[2]!)
        peer.sentOctets = octetsOf(m[3]!, m[4]!)
      } else problems.push({ line: i + 1, reason: `'${value.slice(0, 60)}' is no transfer` })
    }
  }
  return { interfaces, problems }
}

/** `wg show all dump`, or of one interface: fields apart by tabs; the private key is passed over. */
function readDump(text: string, now: number): Shown {
  const interfaces: Filling[] = []
  const problems: Problem[] = []
  for (const [i, raw] of text.split(/\r\n|\n|\r/).entries()) {
    if (raw.trim() === '') continue
    const f = raw.split('\t')
    const isAll = f.length === 5 || f.length === 9
    const [name, rest] = isAll ? [f[0]!, f.slice(1)] : ['', f]
    if (rest.length === 4) {
      interfaces.push({
        name,
        publicKey: none(rest[1]!),
        listenPort: Number(rest[2]) || null,
        peers: [],
      })
      continue
    }
    const own = interfaces.at(-1)
    if (rest.length !== 8 || !own) {
      problems.push({ line: i + 1, reason: 'this line has not the fields of a dump' })
      continue
    }
    const handshake = Number(rest[4])
    own.peers.push({
      publicKey: rest[0]!,
      endpoint: none(rest[2]!),
      allowed: list(rest[3]!),
      handshakeAgo: handshake > 0 ? Math.max(0, now - handshake) : null,
      receivedOctets: Number(rest[5]) || 0,
      sentOctets: Number(rest[6]) || 0,
      keepaliveSeconds: rest[7] === 'off' ? 0 : Number(rest[7]) || 0,
    })
  }
  return { interfaces, problems }
}
