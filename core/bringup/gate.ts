/** C-01: whether enough is known of a hand-off to cut the old line over. */
import type { HandOff, Uplink } from '../plan'

export interface GateFact {
  readonly key: keyof HandOff
  readonly label: string
  readonly known: boolean
  /** Where the fact is usually found. */
  readonly where: string
}

const always: readonly { key: keyof HandOff; label: string; where: string }[] = [
  { key: 'mode', label: 'How the address is given', where: 'the provider\'s letter, or the WAN page of the old router' },
  { key: 'vlan', label: 'VLAN tag on the hand-off', where: 'the WAN page of the old router; many providers never mention it' },
  { key: 'priority', label: '802.1p priority', where: 'beside the tag; 0 where nothing is said' },
  { key: 'mtu', label: 'MTU', where: 'the WAN page of the old router' },
  { key: 'addressKind', label: 'Kind of address', where: 'compare the WAN address with what the internet sees' },
  { key: 'providerLan', label: 'LAN on the provider\'s own router', where: 'the LAN page of the provider\'s router' },
  { key: 'pinnedHardwareAddress', label: 'Pinned hardware address', where: 'the WAN page of the old router, "clone" or "pinned" address' },
]
const whenFixed: readonly { key: keyof HandOff; label: string; where: string }[] = [
  { key: 'address', label: 'Our address', where: 'the provider\'s letter' },
  { key: 'gateway', label: 'The provider\'s gateway', where: 'the provider\'s letter' },
  { key: 'nameServers', label: 'Name servers', where: 'the provider\'s letter' },
]

/** Every fact that the gate asks for, known or not. A tag makes its priority necessary; an untagged line has none. */
export function gateFacts(uplink: Uplink): GateFact[] {
  const h = uplink.handOff
  const wanted = [...always.filter((f) => f.key !== 'priority' || h.vlan !== 'untagged'), ...(h.mode === 'fixed' ? whenFixed : [])]
  return wanted.map((f) => {
    const value = h[f.key]
    return { ...f, known: Array.isArray(value) ? value.length > 0 : value !== null }
  })
}

export const mayUnplug = (uplink: Uplink): boolean => gateFacts(uplink).every((f) => f.known)
