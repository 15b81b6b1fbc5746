/** C-01: whether enough is known of a hand-off to cut the old line over. */
import type { HandOff, Uplink } from '../plan'

export interface GateFact {
  readonly key: keyof HandOff
  readonly label: string
  readonly known: boolean
  /** Where the fact is usually found. */
  readonly where: string
}

type Fact = Omit<GateFact, 'known'>
const fact = (key: keyof HandOff, label: string, where: string): Fact => ({ key, label, where })

const mode = fact(
  'mode',
  'How the address is given',
  "the provider's letter, or the WAN page of the old router",
)
/** What a wire from the provider has, whatever the address is given by. */
const wired: readonly Fact[] = [
  fact(
    'vlan',
    'VLAN tag on the hand-off',
    'the WAN page of the old router; many providers never mention it',
  ),
  fact('priority', '802.1p priority', 'beside the tag; 0 where nothing is said'),
  fact('mtu', 'MTU', 'the WAN page of the old router; 1492 under PPPoE (RFC 2516)'),
  fact('addressKind', 'Kind of address', 'compare the WAN address with what the internet sees'),
  fact('providerLan', "LAN on the provider's own router", "the LAN page of the provider's router"),
  fact(
    'pinnedHardwareAddress',
    'Pinned hardware address',
    'the WAN page of the old router, "clone" or "pinned" address',
  ),
  fact(
    'forcedSpeedMbps',
    'Speed of the socket',
    "the lamps of the old router's line socket, or its status page; most negotiate",
  ),
]
const whenFixed: readonly Fact[] = [
  fact('address', 'Our address', "the provider's letter"),
  fact('gateway', "The provider's gateway", "the provider's letter"),
  fact('nameServers', 'Name servers', "the provider's letter"),
]
const whenPppoe: readonly Fact[] = [
  fact('pppoeUser', 'PPPoE account', "the provider's letter, or the WAN page of the old router"),
  fact('passwordRef', 'PPPoE password', "the provider's letter; old routers show it as dots"),
]
const whenCellular: readonly Fact[] = [
  fact('accessPointName', 'Access point name', "the SIM's letter"),
  fact(
    'addressKind',
    'Kind of address',
    "compare the router's WAN address with what the internet sees",
  ),
  fact('providerLan', 'LAN of the cellular router', 'its label, or its LAN page'),
  fact('cap', 'Data included a month', "the SIM's contract"),
]

/**
 * Every fact that the gate asks for, known or not. A tag makes its priority necessary; an untagged
 * line has none; a cellular line has neither.
 */
export function gateFacts(uplink: Uplink): GateFact[] {
  const h = uplink.handOff
  const wanted =
    h.mode === 'cellular'
      ? [mode, ...whenCellular]
      : [
          mode,
          ...wired.filter((f) => f.key !== 'priority' || h.vlan !== 'untagged'),
          ...(h.mode === 'fixed' ? whenFixed : []),
          ...(h.mode === 'pppoe' ? whenPppoe : []),
        ]
  return wanted.map((f) => {
    const value = h[f.key]
    return { ...f, known: Array.isArray(value) ? value.length > 0 : value !== null && value !== '' }
  })
}

export const mayUnplug = (uplink: Uplink): boolean => gateFacts(uplink).every((f) => f.known)
