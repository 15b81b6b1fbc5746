/**
 * Frames and what is in them. Addresses are unsigned 32-bit numbers; hardware addresses are text.
 */
export type Mac = string
export const BROADCAST: Mac = 'ff:ff:ff:ff:ff:ff'
export const ALL_HOSTS = 0xffffffff

export interface Frame {
  readonly from: Mac
  readonly to: Mac
  /** IEEE 802.1Q VLAN id on the wire, or null for none. */
  readonly tag: number | null
  readonly payload: Arp | Packet | Pppoe | Bpdu
}

export interface Arp {
  readonly kind: 'arp'
  readonly op: 'request' | 'reply'
  readonly senderMac: Mac
  readonly sender: number
  readonly targetMac: Mac | null
  readonly target: number
}

/**
 * What a bridge says to its neighbours (IEEE 802.1Q 13): the root that it knows, the cost of its
 * way there, itself and the socket that it says it by.
 */
export interface Bpdu {
  readonly kind: 'bpdu'
  readonly root: string
  readonly cost: number
  readonly bridge: string
  readonly port: number
  /** Bridges that it went through since the root said it. */ readonly age: number
  /**
   * Names a change of the tree, for which everybody forgets where addresses were heard
   * (IEEE 802.1Q 13.29, the topology change flag); null mostly.
   */
  readonly change: string | null
}

/** Discovery and session frames of RFC 2516; a session number of 0 is none yet. */
export interface Pppoe {
  readonly kind: 'pppoe'
  readonly code: 'padi' | 'pado' | 'padr' | 'pads' | 'padt' | 'session'
  readonly session: number
  readonly ppp: Ppp | null
}
export type Ppp =
  | {
      readonly protocol: 'lcp'
      readonly op: 'request' | 'ack' | 'echo' | 'echo-reply'
      readonly mru: number
      /** Whether the sender wants a password. */ readonly auth: boolean
    }
  | {
      readonly protocol: 'pap'
      readonly op: 'request' | 'ack' | 'nak'
      readonly user: string
      readonly password: string
    }
  | {
      readonly protocol: 'ipcp'
      readonly op: 'request' | 'ack' | 'nak'
      readonly address: number
      readonly nameServer: number
    }
  | { readonly protocol: 'ip'; readonly packet: Packet }

export interface Packet {
  readonly kind: 'ipv4'
  readonly src: number
  readonly dst: number
  readonly ttl: number
  readonly body: Icmp | Udp | Tcp
}
/**
 * An echo of a size of its own is never taken apart on the way (RFC 791: do not fragment);
 * `too-big` says to whom it was too large (RFC 1191), with what would pass.
 */
export interface Icmp {
  readonly protocol: 'icmp'
  readonly type: 'echo' | 'echo-reply' | 'too-big'
  readonly id: number
  /** Of the whole packet, octets. */ readonly octets: number
  readonly mtu?: number
}
/** Of an echo as people send it, octets. */
export const USUAL_ECHO = 84
export interface Udp {
  readonly protocol: 'udp'
  readonly srcPort: number
  readonly dstPort: number
  readonly data: Dhcp | Dns | Datagram | Sealed | Ike | NameUpdate
}
export interface Tcp {
  readonly protocol: 'tcp'
  readonly srcPort: number
  readonly dstPort: number
  readonly flag: 'syn' | 'syn-ack' | 'ack' | 'rst' | 'data'
  readonly data?: unknown
}

/** RFC 2131, reduced to the fields that are used. */
export interface Dhcp {
  readonly kind: 'dhcp'
  readonly op: 'discover' | 'offer' | 'request' | 'ack' | 'nak'
  readonly transaction: number
  readonly client: Mac
  readonly address: number
  readonly server: number
  /**
   * The gateway that passed it on, by its address in the client's segment (giaddr); 0 without one.
   */
  readonly relay: number
  readonly options: DhcpOptions | null
}
export interface DhcpOptions {
  readonly length: number
  readonly router: number | null
  readonly nameServer: number | null
  readonly leaseSeconds: number
  /** Option 43, as octets of sub-options (RFC 2132 8.4). */
  readonly vendor: Uint8Array | null
  /** Option 143: each URI after its length in two octets (RFC 8572 8.1). */
  readonly bootstrap?: Uint8Array | null
}
export interface Dns {
  readonly kind: 'dns'
  readonly id: number
  readonly name: string
  readonly answer: number | null
  readonly isReply: boolean
}

/** A question to a service and its answer; what is in it does not matter. */
export interface Datagram {
  readonly kind: 'datagram'
  readonly isReply: boolean
}

/**
 * What ends of tunnels say to each other. Who holds a private key is who its public half names:
 * nothing is really enciphered here.
 */
export interface Sealed {
  readonly kind: 'sealed'
  /** Asks for a session, agrees to it, or carries a packet in it. */
  readonly message: 'call' | 'answer' | 'data'
  /** Public keys of the sender, and of whom it takes the receiver for. */
  readonly from: string
  readonly to: string
  readonly sharedKey: string | null
  readonly session: number
  /** Null only keeps the way open. */
  readonly inner: Packet | null
}
/**
 * What ends of IKEv2 say to each other (RFC 7296), and what they carry (RFC 4303). Whoever knows the
 * shared key says it: nothing is really enciphered here.
 */
export interface Ike {
  readonly kind: 'ike'
  readonly message:
    'init' | 'chosen' | 'auth' | 'agreed' | 'refused' | 'alive' | 'alive-answer' | 'esp'
  readonly exchange: number
  readonly proposal: string
  /** Who it is, and whom it takes the other for. */
  readonly id: string
  readonly expects: string
  readonly sharedKey: string | null
  /** Networks of the sender, and of the other end. */
  readonly local: readonly { readonly network: number; readonly length: number }[]
  readonly remote: readonly { readonly network: number; readonly length: number }[]
  /** Why it is refused. */
  readonly why: string | null
  readonly inner: Packet | null
}
/** Says to a name service where a name leads from now on (RFC 2136), and its answer. */
export interface NameUpdate {
  readonly kind: 'name-update'
  readonly name: string
  readonly address: number
  readonly ttlSeconds: number
  readonly isReply: boolean
}

/** Around a packet in a tunnel: IPv4 20, UDP 8, its own header and check 32, octets. */
const SEALED_OCTETS = 60
/** IPv4 20, UDP 8, ESP 8 and its counter 8, check 16, and the end of 2 filled up to 4 (RFC 4303, RFC 4106). */
const ESP_OCTETS = 60
const espOctets = (inner: number): number => ESP_OCTETS + Math.ceil((inner + 2) / 4) * 4
/** Of the whole packet; only echoes have a size that matters. */
export function octetsOf({ body }: Packet): number {
  if (body.protocol === 'icmp') return body.octets
  if (body.protocol !== 'udp') return USUAL_ECHO
  const { data } = body
  if (data.kind === 'ike' && data.inner) return espOctets(octetsOf(data.inner))
  return data.kind === 'sealed' && data.inner ? SEALED_OCTETS + octetsOf(data.inner) : USUAL_ECHO
}

/** Four numbers, and no name. */
export const isAddress = (text: string): boolean => /^\d+(\.\d+){3}$/.test(text)
export const toNumber = (text: string): number =>
  text.split('.').reduce((sum, o) => sum * 256 + Number(o), 0)
export const toText = (a: number): string => [24, 16, 8, 0].map((s) => (a >>> s) & 255).join('.')
const maskOf = (length: number): number => (length === 0 ? 0 : (0xffffffff << (32 - length)) >>> 0)
export const sameNetwork = (a: number, b: number, length: number): boolean =>
  (a & maskOf(length)) >>> 0 === (b & maskOf(length)) >>> 0

/** Sub-option 1: the controller's address as text. */
export function encodeVendor(url: string): Uint8Array {
  const text = new TextEncoder().encode(url)
  return Uint8Array.of(1, text.length, ...text)
}
export function encodeUri(uri: string): Uint8Array {
  const text = new TextEncoder().encode(uri)
  return Uint8Array.of(text.length >> 8, text.length & 255, ...text)
}
export function decodeUris(octets: Uint8Array): string[] {
  const out: string[] = []
  for (let at = 0; at + 2 <= octets.length;) {
    const length = octets[at]! * 256 + octets[at + 1]!
    out.push(new TextDecoder().decode(octets.slice(at + 2, at + 2 + length)))
    at += 2 + length
  }
  return out
}
export function decodeVendor(octets: Uint8Array): string | null {
  for (let i = 0; i + 1 < octets.length; i += 2 + octets[i + 1]!)
    if (octets[i] === 1)
      return new TextDecoder().decode(octets.slice(i + 2, i + 2 + octets[i + 1]!))
  return null
}
