/** Whether a host can live with the address that it is to have. The rules say so, and traces too. */
import {
  address,
  containsAddress,
  lastOf,
  looksLikeMask,
  parsePrefix,
  type Prefix,
} from '../addressing'
import { hasKnownAddress, type Device, type Segment } from '../plan'
import { remembered } from '../remember'
import type { SiteModel } from './siteModel'

/** Why a host of a subnet cannot have an address; undefined where it can. */
export function unusableIn(text: string, subnet: Prefix): string | undefined {
  const a = address(text)
  if (looksLikeMask(a)) return 'is a mask, not an address'
  if (!containsAddress(subnet, a)) return 'lies outside the subnet'
  if (subnet.length > 30) return undefined
  if (a.value === subnet.network) return 'is the network address itself'
  if (a.value === lastOf(subnet)) return 'is the broadcast address'
  return undefined
}

/** Who has an address that is typed or reserved, by segment and address. */
const owners = remembered((model: SiteModel): ReadonlyMap<string, readonly Device[]> => {
  const by = new Map<string, Device[]>()
  for (const d of model.devices) {
    if (!hasKnownAddress(d)) continue
    const key = `${d.addressing.segmentId} ${d.addressing.address}`
    const there = by.get(key)
    if (there) there.push(d)
    else by.set(key, [d])
  }
  return by
})

/** What keeps a host from being reached at its address in the segment that it was planned for. */
export function addressTrouble(model: SiteModel, device: Device, segment: Segment): string | null {
  const own = device.addressing.address
  const subnet = segment.subnet ? parsePrefix(segment.subnet) : undefined
  if (!own || !subnet || !hasKnownAddress(device)) return null
  const wrong = unusableIn(own, subnet)
  if (wrong) return `${own} of ${device.name} ${wrong} ${segment.subnet}`
  if (own === segment.gateway && device.id !== model.gateway?.id)
    return `${device.name} has ${own}, the address of the gateway of ${segment.name}`
  const other = owners(model)
    .get(`${segment.id} ${own}`)
    ?.find((d) => d.id !== device.id)
  return other ? `${device.name} and ${other.name} have the same address, ${own}` : null
}

/** What keeps a host from finding the way out of its segment. */
export function wayOutTrouble(device: Device, segment: Segment): string | null {
  const { mode, gateway } = device.addressing
  return mode === 'fixed' && gateway !== null && segment.gateway && gateway !== segment.gateway
    ? `${device.name} sends to the gateway ${gateway}; that of ${segment.name} is ${segment.gateway}`
    : null
}
