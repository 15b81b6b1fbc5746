/**
 * The ends of an intent as a gateway tells them apart: by interface, and within one by address. Of
 * a host that is its IPv4 address; over IPv6 hosts choose
 * addresses of their own (RFC 4862, RFC 8981), so that nothing is allowed to one alone, and what is
 * denied to one is denied to its whole segment.
 */
import type { Prefix } from '../addressing'
import {
  ANYWHERE,
  activeTunnels,
  hasKnownAddress,
  own,
  peerSpace,
  piecesOf,
  PROVIDER_LAN,
  tunnelOf,
  tunnelSpace,
  tunnelZone,
  type Intent,
  type Place,
  type SitePlan,
  type Tunnel,
} from '../plan'
import { LINE, prefixesOf, type AddressList, type Zone } from './rules'

export interface End {
  readonly zones: readonly Zone[]
  /** Null where all of the zones is meant. */
  readonly addresses: AddressList | null
}

/** Interfaces of tunnels by which the internet is reached. */
export const providerZones = (plan: SitePlan): Zone[] =>
  activeTunnels(plan)
    .filter((t) => t.kind === 'provider' && tunnelZone(plan, t) === t.id)
    .map((t) => t.id)

export class Ends {
  private readonly lists = new Map<string, AddressList>()
  /** @param listOf makes a named list of addresses */
  constructor(
    private readonly plan: SitePlan,
    private readonly segmentIds: readonly string[],
    private readonly listOf: (name: string, prefixes: readonly Prefix[]) => AddressList,
  ) {}

  /** Lists that were made for ends. */
  get named(): AddressList[] {
    return [...this.lists.values()]
  }

  of(place: Place, side: 'from' | 'to', action: Intent['action']): End {
    // Through a tunnel to a provider it is the same internet.
    if (place === 'internet')
      return {
        zones: side === 'to' ? [LINE, ...providerZones(this.plan)] : [LINE],
        addresses: null,
      }
    if (place === PROVIDER_LAN) return { zones: [LINE], addresses: null }
    if (place === ANYWHERE)
      return {
        zones:
          side === 'to' ? [...this.segmentIds, LINE, ...providerZones(this.plan)] : this.segmentIds,
        addresses: null,
      }
    if (this.plan.segments[place]) return { zones: [place], addresses: null }
    const tunnel = tunnelOf(this.plan, place)
    if (tunnel) return this.ofTunnel(tunnel, place)
    return this.members(place, piecesOf(this.plan, place), action)
  }

  /** All of a tunnel that ends on the gateway is its interface; else it comes by the host's segment. */
  private ofTunnel(tunnel: Tunnel, place: Place): End {
    const zone = tunnel.isActive ? tunnelZone(this.plan, tunnel) : null
    if (zone === null) return { zones: [], addresses: null }
    const peer = own(this.plan.peers, place)
    if (!peer && zone === tunnel.id) return { zones: [zone], addresses: null }
    return {
      zones: [zone],
      addresses: this.list('of', place, peer ? peerSpace(peer) : tunnelSpace(this.plan, tunnel)),
    }
  }

  /** Hosts and segments by their addresses, under a name. */
  members(name: string, pieces: readonly string[], action: Intent['action']): End {
    const { segments, devices } = this.plan
    const whole = pieces.filter((p) => segments[p])
    const hosts = pieces
      .flatMap((p) => own(devices, p) ?? [])
      .filter((d) => d.addressing.segmentId !== null)
    const zones = [...new Set([...whole, ...hosts.map((d) => d.addressing.segmentId!)])].sort(
      (a, b) => segments[a]!.vlanId - segments[b]!.vlanId,
    )
    if (hosts.length === 0) return { zones, addresses: null }
    const of6 = action === 'deny' ? zones : whole
    return {
      zones,
      addresses: this.list(action === 'deny' ? 'denied' : 'of', name, [
        ...whole.map((id) => segments[id]!.subnet),
        ...hosts.filter(hasKnownAddress).map((d) => `${d.addressing.address!}/32`),
        ...of6.map((id) => segments[id]!.subnet6),
      ]),
    }
  }

  /** @param use `of` for what is allowed, `denied` for what is not, `before` a page was passed */
  list(
    use: 'of' | 'denied' | 'before',
    place: string,
    texts: readonly (string | null)[],
  ): AddressList {
    const name = `${use}-${place}`
    let list = this.lists.get(name)
    if (!list) this.lists.set(name, (list = this.listOf(name, prefixesOf(texts))))
    return list
  }
}
