/** C-16: an access VLAN expected of a switch that cannot assign one. All its sockets carry what arrives untagged at its cable. */
import type { Port } from '../../plan'
import { cablePath, feedingPort, outcomeOf, type SiteModel } from '../../topology'
import { defineRule, type Fix } from '../rule'

export default defineRule({
  id: 'wiring/switch-cannot-assign-vlan',
  severity: 'blocker',
  catches: ['C-16'],
  title: 'A switch without VLANs is asked to assign one',
  sheet: 'wiring',
  *check(model) {
    for (const d of model.devices) {
      const { vlan } = model.profileOf(d.id)
      if (vlan !== 'transparent' && vlan !== 'unaware') continue
      const hosts = model.portsOf(d.id).flatMap((p) => {
        const peer = model.peerOf(p.id)
        const host = peer && model.plan.devices[peer.deviceId]!
        return host && model.profileOf(host.id).vlan === 'none' && host.addressing.segmentId ? [host] : []
      })
      const wanted = [...new Set(hosts.map((h) => h.addressing.segmentId!))]
      const wrong = hosts.filter((h) => outcomeOf(model, { segmentId: h.addressing.segmentId!, deviceId: h.id, why: 'host' }).break)
      if (wrong.length === 0) continue
      const path = cablePath(model, d.id)
      if (!path || path.length === 0) continue
      const feed = feedingPort(model, path)
      const arrives = feed.untaggedSegmentId ? model.vlanName(feed.untaggedSegmentId) : 'nothing'
      yield {
        subjects: [d.id, ...wrong.map((h) => h.id)],
        text: `${d.name} cannot assign a VLAN: every socket carries what ${model.portName(feed.id)} sends untagged, ${arrives}; ${wrong.map((h) => `${h.name} should be in ${model.vlanName(h.addressing.segmentId!)}`).join(', ')}.`,
        why: wanted.length > 1 ? 'Its hosts want different segments; one plain switch can serve only one of them.' : 'The host gets an address of the wrong segment, with the wrong rights.',
        numbers: [{ label: 'segments wanted on it', value: String(wanted.length) }],
        fixes: fixesFor(model, wanted, feed, path),
      }
    }
  },
})

function fixesFor(model: SiteModel, wanted: readonly string[], feed: Port, path: readonly [Port, Port][]): Fix[] {
  return wanted.map((segmentId): Fix => {
    const before = path.flat().filter((p) => p.id !== feed.id && model.profileOf(p.deviceId).vlan === 'managed' && p.untaggedSegmentId !== segmentId && !p.taggedSegmentIds.includes(segmentId))
    const vlan = model.vlanName(segmentId)
    return {
      label: wanted.length === 1 ? `Send ${vlan} untagged from ${model.portName(feed.id)}` : `Give the whole switch to ${vlan} (the others must move)`,
      edits: [
        ...(before.length > 0 ? [{ name: 'addTag', args: { segmentId, portIds: before.map((p) => p.id) } }] : []),
        { name: 'setUntagged', args: { segmentId, portIds: [feed.id] } },
      ],
    }
  })
}
