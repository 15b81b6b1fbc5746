/** Names of hosts inside the site: what a device is called in the DNS, and who answers for it. */
import type { SiteModel } from '../topology'

/**
 * Name under which devices find the controller where the site tells them by DNS (`.internal` is set
 * aside for private use).
 */
export const CONTROLLER_NAME = 'controller.internal'

/** A label for a name (RFC 1123 2.1): "Quay AP 1" -> `quay-ap-1`. */
export function hostLabel(name: string): string {
  const plain = name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 63)
    .replace(/-$/, '')
  return plain === '' ? 'host' : plain
}

export interface HostName {
  readonly label: string
  readonly address: string
  /** What it is, for a comment. */ readonly of: string
  /** Null for an address of the gateway. */ readonly deviceId: string | null
}

/**
 * Every planned IPv4 address with its label, in the order of segments; labels that meet get a
 * number. Over IPv6 hosts choose their own, which nobody knows.
 */
export function hostNames(model: SiteModel): HostName[] {
  const used = new Map<string, number>()
  const unique = (label: string): string => {
    const n = (used.get(label) ?? 0) + 1
    used.set(label, n)
    return n === 1 ? label : unique(`${label}-${n}`)
  }
  const gateway = model.gateway ? hostLabel(model.gateway.name) : 'gateway'
  const { controllerPlace: place } = model
  const out: HostName[] = []
  if ((place?.kind === 'host' || place?.kind === 'gateway') && place.address)
    out.push({
      label: unique('controller'),
      address: place.address,
      of: place.device.name,
      deviceId: place.kind === 'host' ? place.device.id : null,
    })
  for (const s of model.segments) {
    const label = unique(`${gateway}-${s.vlanId}`)
    if (s.gateway)
      out.push({ label, address: s.gateway, of: `gateway of ${s.name}`, deviceId: null })
    for (const d of model.membersOf(s.id))
      if (d.addressing.mode !== 'automatic' && d.addressing.address)
        out.push({
          label: unique(hostLabel(d.name)),
          address: d.addressing.address,
          of: d.name,
          deviceId: d.id,
        })
  }
  return out
}

/**
 * The servers that hosts of a segment are told to ask for names: the gateway where the plan names
 * none.
 */
export const nameServersOf = (s: {
  readonly options: { readonly nameServers: readonly string[] }
  readonly gateway: string | null
}): readonly string[] =>
  s.options.nameServers.length > 0 ? s.options.nameServers : s.gateway ? [s.gateway] : []

/**
 * The host inside that most segments ask for names; undefined where they all ask somebody outside.
 */
export function servingNames(
  model: SiteModel,
  names: readonly HostName[] = hostNames(model),
): HostName | undefined {
  const asked = new Map<string, number>()
  for (const s of model.segments)
    for (const a of nameServersOf(s)) asked.set(a, (asked.get(a) ?? 0) + 1)
  const [most] = names
    .filter((n) => asked.has(n.address))
    .sort(
      (a, b) =>
        asked.get(b.address)! - asked.get(a.address)! || names.indexOf(a) - names.indexOf(b),
    )
  return most
}
