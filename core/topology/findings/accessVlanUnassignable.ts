/**
 * C-16: an access VLAN expected of a switch that cannot assign one. All its sockets carry what
 * arrives untagged at its cable.
 */
import {
  inPlan,
  editCall,
  applyEdit,
  catalogue,
  type Device,
  type EditCall,
  type Port,
} from '../../plan'
import { cablePath, feedingPort, outcomeOf, type SiteModel } from '../../topology'
import { defineRule, type Fix } from '../../findings/rule'

export default defineRule({
  id: 'wiring/switch-cannot-assign-vlan',
  severity: 'blocker',
  catches: ['C-16'],
  title: 'A switch without VLANs is asked to assign one',
  sheet: 'wiring',
  reads: [
    'devices',
    'profiles',
    'ports',
    'links',
    'segments',
    'uplinks',
    'controller',
    'wirelessNetworks',
  ],
  *check(model) {
    for (const d of model.devices) {
      const { vlan } = model.profileOf(d.id)
      if (vlan !== 'transparent' && vlan !== 'unaware') continue
      const hosts = model.portsOf(d.id).flatMap((p) => {
        const peer = model.peerOf(p.id)
        const host = peer && model.device(peer.deviceId)
        return host && model.profileOf(host.id).vlan === 'none' && host.addressing.segmentId
          ? [host]
          : []
      })
      const wanted = [...new Set(hosts.map((h) => h.addressing.segmentId!))]
      const wrong = hosts.filter(
        (h) =>
          outcomeOf(model, { segmentId: h.addressing.segmentId!, deviceId: h.id, why: 'host' })
            .break,
      )
      if (wrong.length === 0) continue
      const path = cablePath(model, d.id)
      if (!path || path.length === 0) continue
      const feed = feedingPort(model, path)
      const arrives = feed.untaggedSegmentId ? model.vlanName(feed.untaggedSegmentId) : 'nothing'
      yield {
        subjects: [d.id, ...wrong.map((h) => h.id)],
        text:
          `${d.name} cannot assign a VLAN: every socket carries what ` +
          `${model.portName(feed.id)} sends untagged, ${arrives}; ` +
          `${wrong.map((h) => `${h.name} should be in ${model.vlanName(h.addressing.segmentId!)}`).join(', ')}.`,
        why:
          wanted.length > 1
            ? 'Its hosts want different segments; one plain switch can serve only one of them.'
            : 'The host gets an address of the wrong segment, with the wrong rights.',
        numbers: [{ label: 'segments wanted on it', value: String(wanted.length) }],
        fixes: fixesFor(model, d, hosts, wanted, feed, path),
      }
    }
  },
})

function fixesFor(
  model: SiteModel,
  device: Device,
  hosts: readonly Device[],
  wanted: readonly string[],
  feed: Port,
  path: readonly [Port, Port][],
): Fix[] {
  // A line socket carries no segment of the site.
  if (model.profilePortOf(feed.id).role === 'wan') return []
  const whole = wanted.map((segmentId): Fix => {
    const vlan = model.vlanName(segmentId)
    return {
      label:
        wanted.length === 1
          ? `Send ${vlan} untagged from ${model.portName(feed.id)}`
          : `Give the whole switch to ${vlan} (the others must move)`,
      edits: [
        ...taggedBefore(model, [segmentId], path, feed),
        editCall('setUntagged', { segmentId, portIds: [feed.id] }),
      ],
    }
  })
  const managed =
    wanted.length > 1 ? managedInPlaceOf(model, device, hosts, wanted, path) : undefined
  return managed ? [managed, ...whole] : whole
}

/** Tags on what lies before the plain switch, where they are missing. */
function taggedBefore(
  model: SiteModel,
  segmentIds: readonly string[],
  path: readonly [Port, Port][],
  except?: Port,
): EditCall[] {
  return segmentIds.flatMap((segmentId) => {
    const missing = path
      .flat()
      .filter(
        (p) =>
          p !== except &&
          model.profileOf(p.deviceId).vlan === 'managed' &&
          p.untaggedSegmentId !== segmentId &&
          !p.taggedSegmentIds.includes(segmentId),
      )
    return missing.length > 0
      ? [editCall('addTag', { segmentId, portIds: missing.map((p) => p.id) })]
      : []
  })
}

/**
 * Another switch, that can assign VLANs: the smallest that has the sockets. It is managed where
 * what arrives untagged is management.
 */
function managedInPlaceOf(
  model: SiteModel,
  device: Device,
  hosts: readonly Device[],
  wanted: readonly string[],
  path: readonly [Port, Port][],
): Fix | undefined {
  const plugs = model.portsOf(device.id).filter((p) => model.peerOf(p.id))
  const profile = Object.values({ ...catalogue, ...model.plan.profiles })
    .filter(
      (p) =>
        p.kind === 'switch' &&
        p.vlan === 'managed' &&
        p.ports.filter((s) => s.role === 'lan' && s.medium === 'copper').length >= plugs.length,
    )
    .sort((a, b) => a.ports.length - b.ports.length)[0]
  const replaced =
    profile &&
    applyEdit(model.plan, editCall('replaceDevice', { id: device.id, profileId: profile.id }))
  if (!replaced?.ok) return undefined
  const entry = path.flat().find((p) => p.deviceId === device.id)!
  const management = Object.values(model.plan.segments).find((s) => s.purpose === 'management')
  /** Sockets keep their place; the same cables are in them afterwards. */
  const socketOf = (port: Port): string => {
    const link = Object.values(model.plan.links).find((l) => l.a === port.id || l.b === port.id)!
    const after = inPlan(replaced.plan.links, link.id)
    return link.a === port.id ? after.a : after.b
  }
  const feedUntagged = feedingPort(model, path).untaggedSegmentId
  return {
    label: `Put a ${profile!.name} in its place, which can`,
    edits: [
      ...taggedBefore(
        model,
        wanted.filter((s) => s !== feedUntagged),
        path,
      ),
      editCall('replaceDevice', { id: device.id, profileId: profile!.id }),
      ...(feedUntagged
        ? [editCall('setUntagged', { segmentId: feedUntagged, portIds: [socketOf(entry)] })]
        : []),
      ...wanted
        .filter((s) => s !== feedUntagged)
        .map((segmentId) => editCall('addTag', { segmentId, portIds: [socketOf(entry)] })),
      ...hosts.flatMap((h) => {
        const port = plugs.find((p) => model.peerOf(p.id)!.deviceId === h.id)!
        return [
          editCall('setUntagged', { segmentId: h.addressing.segmentId, portIds: [socketOf(port)] }),
        ]
      }),
      ...(management && feedUntagged === management.id
        ? [
            editCall('changeDevice', {
              id: device.id,
              changes: {
                addressing: {
                  mode: 'automatic',
                  segmentId: management.id,
                  address: null,
                  gateway: null,
                },
              },
            }),
          ]
        : []),
    ],
  }
}
