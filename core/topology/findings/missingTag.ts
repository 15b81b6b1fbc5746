/** C-14: a VLAN that is needed beyond a port that does not carry it. */
import { inPlan, editCall } from '../../plan'
import { needsOf, outcomeOf } from '../../topology'
import { defineRule, type Fix } from '../../findings/rule'
import { listWords } from '../../words'

export default defineRule({
  id: 'wiring/vlan-does-not-arrive',
  severity: 'blocker',
  catches: ['C-14', 'C-39'],
  title: 'A VLAN does not reach where it is needed',
  sheet: 'wiring',
  reads: ['devices', 'profiles', 'ports', 'links', 'segments', 'wirelessNetworks'],
  *check(model) {
    for (const need of needsOf(model)) {
      const { break: found } = outcomeOf(model, need)
      if (!found || found.kind === 'lost in a switch without VLANs') continue
      const device = model.device(need.deviceId)
      const behindPlainSwitch = need.why === 'host' && passesPlainSwitch(model, need.deviceId)
      if (behindPlainSwitch && found.kind !== 'no cable') continue
      const vlan = model.vlanName(need.segmentId)
      const key = [need.why, need.deviceId, need.segmentId, need.wirelessNetworkId ?? ''].join(':')
      if (found.kind === 'no cable') {
        yield {
          key,
          catches: ['C-14'],
          severity: 'caution',
          subjects: [device.id],
          text:
            `${device.name} has no cable towards the gateway` +
            (model.profileOf(device.id).air.length > 0 && need.why === 'host'
              ? ' and joins no wireless network'
              : '') +
            `; it should be in ${vlan}.`,
          why: 'Draw its cable, let it join a network, or take it out of the segment.',
        }
        continue
      }
      const edits = [
        ...(found.missingTagPorts.length > 0
          ? [editCall('addTag', { segmentId: need.segmentId, portIds: [...found.missingTagPorts] })]
          : []),
        ...(found.untaggedPorts.length > 0
          ? [
              editCall('setUntagged', {
                segmentId: need.segmentId,
                portIds: [...found.untaggedPorts],
              }),
            ]
          : []),
      ]
      const missing = [
        ...(found.missingTagPorts.length > 0
          ? [`tag ${vlan} on ${listWords(found.missingTagPorts.map(model.portName))}`]
          : []),
        ...(found.untaggedPorts.length > 0
          ? [`carry it untagged on ${listWords(found.untaggedPorts.map(model.portName))}`]
          : []),
      ].join(' and ')
      // The socket of a line carries no VLAN of the site, whatever is set.
      const line = [found.portId, ...found.missingTagPorts, ...found.untaggedPorts].find(
        (id) => model.profilePortOf(id).role === 'wan',
      )
      const fixes: Fix[] =
        edits.length > 0 && line === undefined
          ? [{ label: missing[0]!.toUpperCase() + missing.slice(1), edits }]
          : []
      const what =
        need.why === 'wireless network'
          ? `the network '${inPlan(model.plan.wirelessNetworks, need.wirelessNetworkId!).name}' on ${device.name}`
          : need.why === 'host'
            ? device.name
            : `the page of ${device.name}`
      yield {
        key,
        catches: need.why === 'wireless network' ? ['C-14', 'C-39'] : ['C-14'],
        subjects: [found.portId, need.deviceId, need.segmentId],
        text: `${vlan} stops at ${model.portName(found.portId)} (${found.kind}) and is needed by ${what}.`,
        why:
          need.why === 'wireless network'
            ? 'Clients would join and get no address.'
            : 'It would get no address, or one of another segment.' +
              (line === undefined
                ? ''
                : ` ${model.portName(line)} is for a line: move the cable to a socket inside.`),
        numbers: [
          {
            label: 'ports that do not carry it',
            value: String(found.missingTagPorts.length + found.untaggedPorts.length),
            how: 'counted along the shortest cable path from the gateway',
          },
        ],
        fixes,
      }
    }
  },
})

/**
 * Whether a host hangs on a switch that cannot assign VLANs; what it then gets is another rule's
 * matter.
 */
function passesPlainSwitch(model: Parameters<typeof needsOf>[0], deviceId: string): boolean {
  const peer = model
    .portsOf(deviceId)
    .map((p) => model.peerOf(p.id))
    .find((p) => p !== undefined)
  return (
    peer !== undefined && ['transparent', 'unaware'].includes(model.profileOf(peer.deviceId).vlan)
  )
}
