/**
 * The rules of a site's gateway: one ordered list for IPv4 and IPv6, of which every export, device
 * document, matrix and trace is made. Before it stands who may
 * send from where; the first rule that matches decides; what has no rule is dropped.
 */
import { collapse, containsPrefix, formatPrefix, parsePrefix, type Prefix } from '../addressing'
import type { Hours, Place, PortSpan, Service } from '../plan'

export type Family = 'ipv4' | 'ipv6'
export const families: readonly Family[] = ['ipv4', 'ipv6']
/** No id of a segment looks like this. */
export const LINE = '@line'
/** Where a packet enters or leaves the gateway: by the line, or by the interface of a segment. */
export type Zone = typeof LINE | (string & {})
/** What people ask for; `icmp` is an echo request of either family. */
export type Protocol = Service['protocol']
export type ConnectionState = 'established' | 'related' | 'invalid' | 'new'

/** Addresses with a name, of both families. */
export interface AddressList {
  readonly name: string
  readonly prefixes: readonly string[]
  /** Whether all of a place lies in it. The internet is what no list holds. */
  holds(place: Place, family: Family): boolean
}

export interface Rule {
  readonly id: string
  /** `input` is traffic to the gateway itself, `forward` traffic through it. */
  readonly chain: 'input' | 'forward'
  readonly from: readonly Zone[] | 'any'
  readonly to: readonly Zone[] | 'any'
  readonly family: Family | 'any'
  readonly sources: AddressList | null
  readonly destinations: AddressList | null
  /**
   * `icmpv6-errors` are the four kinds that must always pass (RFC 4890 4.3.1), `icmpv6-neighbours`
   * what hosts of one link say to each other (4.4.1),
   * `icmpv6-routers` the advertisements by which the gateway learns of the provider's router.
   */
  readonly protocol: Protocol | 'any' | 'icmpv6-errors' | 'icmpv6-neighbours' | 'icmpv6-routers'
  /** Destination ports; empty is all of them. */
  readonly ports: readonly PortSpan[]
  /** Empty is all of them. */
  readonly states: readonly ConnectionState[]
  /**
   * Connections whose destination a port forward put there: with the others, alone, or not at all.
   */
  readonly forwarded: 'too' | 'only' | 'not'
  /** When it stands, by the clocks of the site; null is always. */
  readonly hours: Hours | null
  readonly verdict: 'accept' | 'drop'
  readonly intentId: string | null
  /** Why the rule stands here, in words. */
  readonly text: string
}

/**
 * Who may send by an interface (RFC 2827, RFC 3704): nobody but `only`, and never `never`. What
 * hosts say before they have an address is let through.
 */
export interface Origin {
  readonly zone: Zone
  readonly only: readonly string[] | null
  readonly never: readonly string[]
}
/** Said by hosts that have no address yet, or only that of their link. */
export const addressless = { ipv4: ['0.0.0.0/32'], ipv6: ['::/128', 'fe80::/10'] } as const

/**
 * Ports of the line's address that lead to a host inside, for who asks from outside and from
 * inside.
 */
export interface Forwarding {
  readonly id: string
  readonly name: string
  readonly protocol: 'tcp' | 'udp'
  readonly outside: { readonly first: number; readonly last: number }
  /** Of the first; the others follow. */
  readonly inside: number
  readonly deviceId: string
  readonly segmentId: string
  readonly address: string
}

export interface RuleSet {
  readonly origins: readonly Origin[]
  readonly rules: readonly Rule[]
  readonly lists: readonly AddressList[]
  /** Segments whose IPv4 connections by the line leave with the gateway's own address. */
  readonly masquerade: readonly string[]
  readonly forwards: readonly Forwarding[]
  /** Where the packets of a place come from or go to. */
  zoneOf(place: Place): Zone
}

export const isFamily = (p: Prefix, family: Family): boolean =>
  (p.family === 4) === (family === 'ipv4')

/** @param spaceOf the prefixes that a place consists of; none for the internet */
export function addressList(
  name: string,
  prefixes: readonly Prefix[],
  spaceOf: (place: Place, family: Family) => readonly Prefix[],
): AddressList {
  const own = collapse(prefixes)
  const known = new Map<string, boolean>()
  return {
    name,
    prefixes: own.map(formatPrefix),
    holds: (place, family) => {
      const key = `${family}${place}`
      let is = known.get(key)
      if (is === undefined) {
        const space = spaceOf(place, family)
        known.set(
          key,
          (is = space.length > 0 && space.every((s) => own.some((p) => containsPrefix(p, s)))),
        )
      }
      return is
    },
  }
}
export const prefixesOf = (texts: readonly (string | null | undefined)[]): Prefix[] =>
  texts.flatMap((t) => (t ? (parsePrefix(t) ?? []) : []))
