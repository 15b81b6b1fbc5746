/** A lead of which one pair has no contact: what hangs on it comes up at 100 Mbit/s (IEEE 802.3 40). */
import { z } from 'zod'
import { defineFault } from './fault'

const id = z.string().max(64)
/** 100BASE-TX needs two pairs, 1000BASE-T all four. */
const TWO_PAIRS_MBPS = 100
const FOUR_PAIRS_MBPS = 1000

export const wornLead = defineFault({
  kind: 'worn-lead',
  schema: z.strictObject({ kind: z.literal('worn-lead'), linkId: id }),
  of: (f) => f.linkId,
  offer(plan) {
    const end = (portId: string) => {
      const { deviceId, name } = plan.ports[portId]!
      const device = plan.devices[deviceId]!
      const { kind, vlan, ports } = plan.profiles[device.profileId]!
      return { device, kind, vlan, mbps: ports.find((p) => p.name === name)!.speedMbps }
    }
    const link = Object.values(plan.links).find((l) => {
      const ends = [end(l.a), end(l.b)]
      return (
        l.medium === 'copper' &&
        ends.every((e) => e.mbps >= FOUR_PAIRS_MBPS) &&
        ends.some((e) => e.kind === 'switch' && e.vlan === 'managed')
      )
    })
    return (
      link && {
        fault: { kind: 'worn-lead', linkId: link.id },
        label: `A worn lead between ${end(link.a).device.name} and ${end(link.b).device.name}`,
      }
    )
  },
  leadMbps: (f, linkId) => (f.linkId === linkId ? TWO_PAIRS_MBPS : null),
})
