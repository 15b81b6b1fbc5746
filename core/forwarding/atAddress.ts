/** Whoever the plan has at an address, as the end of a trace; why there is nobody, where it says so. */
import { containsAddress, isPrivate, parseAddress, prefix } from '../addressing'
import type { SiteModel } from '../topology'
import type { Endpoint } from './fate'

export type AtAddress =
  { readonly end: Endpoint; readonly why: null } | { readonly end: null; readonly why: string }

export function atAddress(model: SiteModel, address: string): AtAddress {
  const at = parseAddress(address)
  const nobody = (why: string): AtAddress => ({ end: null, why })
  const end = (e: Endpoint): AtAddress => ({ end: e, why: null })
  if (!at) return nobody(`${address} is no address`)
  const isIn = (networks: readonly string[]): boolean =>
    networks.some((n) => containsAddress(prefix(n), at))
  if (model.segments.some((s) => s.gateway === address)) return end({ kind: 'gateway' })
  const segment = model.segments.find((s) => s.subnet && isIn([s.subnet]))
  if (segment) {
    const host = model.membersOf(segment.id).find((d) => d.addressing.address === address)
    return host
      ? end({ kind: 'device', id: host.id })
      : nobody(`nobody in ${segment.name} has ${address}`)
  }
  const peer = Object.values(model.plan.peers).find((p) => isIn(p.networks))
  if (peer) return end({ kind: 'peer', id: peer.id })
  const lans = model.lines.flatMap(({ handOff: { providerLan: lan } }) =>
    lan && lan !== 'none' ? [lan] : [],
  )
  if (isIn(lans)) return end({ kind: 'provider' })
  return isPrivate({ family: 4, network: at.value, length: 32 })
    ? nobody(`${address} is private space, and of no segment here`)
    : end({ kind: 'internet' })
}
