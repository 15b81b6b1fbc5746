/** Names of hosts inside the site: what a device is called in the DNS. */
import type { SiteModel } from '../topology'
import { gatewayOf6 } from '../addressing'

/** A label for a name (RFC 1123 2.1): "Quay AP 1" -> `quay-ap-1`. */
export function hostLabel(name: string): string {
  const plain = name.normalize('NFKD').toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-+|-+$/g, '').slice(0, 63).replace(/-$/, '')
  return plain === '' ? 'host' : plain
}

export interface HostName { readonly label: string; readonly address: string; /** What it is, for a comment. */ readonly of: string; /** Null for an address of the gateway. */ readonly deviceId: string | null }

/** Every planned address with its label, in the order of segments; labels that meet get a number. */
export function hostNames(model: SiteModel): HostName[] {
  const used = new Map<string, number>()
  const unique = (label: string): string => {
    const n = (used.get(label) ?? 0) + 1
    used.set(label, n)
    return n === 1 ? label : unique(`${label}-${n}`)
  }
  const gateway = model.gateway ? hostLabel(model.gateway.name) : 'gateway'
  const controller = model.plan.controller.hostDeviceId ? model.plan.devices[model.plan.controller.hostDeviceId] : undefined
  const out: HostName[] = []
  if (controller?.addressing.address) out.push({ label: unique('controller'), address: controller.addressing.address, of: controller.name, deviceId: controller.id })
  for (const s of model.segments) {
    const label = unique(`${gateway}-${s.vlanId}`)
    if (s.gateway) out.push({ label, address: s.gateway, of: `gateway of ${s.name}`, deviceId: null })
    if (s.subnet6) out.push({ label, address: gatewayOf6(s.subnet6), of: `gateway of ${s.name}`, deviceId: null })
    for (const d of model.membersOf(s.id)) if (d.addressing.mode !== 'automatic' && d.addressing.address) out.push({ label: unique(hostLabel(d.name)), address: d.addressing.address, of: d.name, deviceId: d.id })
  }
  return out
}
