/**
 * C-18: power over the cable: the total over the budget, a class over the socket's type, more
 * devices than powered sockets.
 */
import { editCall } from '../../plan'
import { highestClassOfType, powerOf, type SiteModel } from '../../topology'
import { defineRule, type Fix } from '../../findings/rule'

const watts = (w: number): string => `${Number(w.toFixed(1))} W`

export default defineRule({
  id: 'wiring/power-over-budget',
  severity: 'blocker',
  catches: ['C-18'],
  title: 'Not enough power on the cables',
  sheet: 'wiring',
  reads: ['devices', 'profiles', 'ports', 'links', 'locations'],
  *check(model) {
    const { budgets, demoted, unfed } = powerOf(model)
    for (const b of budgets) {
      if (b.reservedW <= b.budgetW) continue
      const name = model.device(b.deviceId).name
      const last = [...b.powered].sort(
        (x, y) => y.reservedW - x.reservedW || (x.deviceId < y.deviceId ? 1 : -1),
      )
      yield {
        subjects: [b.deviceId, ...b.powered.map((p) => p.deviceId)],
        text:
          `${name} has ${watts(b.budgetW)} to give; its ${b.powered.length} powered devices ` +
          `reserve ${watts(b.reservedW)}, ${watts(b.reservedW - b.budgetW)} too much.`,
        why: 'It switches off the last sockets, usually after a restart when nobody is there.',
        numbers: [
          {
            label: 'reserved',
            value: watts(b.reservedW),
            how:
              `${b.powered.map((p) => `${watts(p.reservedW)} class ${p.poeClass}`).join(' + ')} ` +
              `(${ways[model.profileOf(b.deviceId).poeAllocation]})`,
          },
          { label: 'budget', value: watts(b.budgetW) },
          { label: 'powered sockets used', value: `${b.powered.length} of ${b.sockets}` },
        ],
        fixes: last.slice(0, 4).flatMap((p) => ownPower(model, p.deviceId)),
      }
    }
    for (const d of demoted) {
      // What arrives is enough where it draws less than its class allows.
      if (d.drawW <= d.givenW) continue
      const device = model.device(d.deviceId)
      yield {
        subjects: [d.deviceId, d.portId],
        severity: 'caution',
        text:
          `${device.name} is class ${d.poeClass}, and ${model.portName(d.portId)} gives no ` +
          `more than class ${d.givenClass}: ${watts(d.givenW)} arrive, and it draws ` +
          `${watts(d.drawW)} at the most.`,
        why: 'It is demoted, not dark: it starts, and leaves out radios or starts anew when it has much to do.',
        numbers: [
          {
            label: 'arrives',
            value: watts(d.givenW),
            how: `class ${d.givenClass} at the device (IEEE 802.3)`,
          },
          { label: 'draws', value: watts(d.drawW) },
        ],
        fixes: [...strongerSocket(model, d.deviceId, d.poeClass), ...ownPower(model, d.deviceId)],
      }
    }
    for (const u of unfed) {
      const d = model.device(u.deviceId)
      yield {
        subjects: [d.id],
        text: `${d.name} is to be powered by its cable but ${u.reason}.`,
        why: 'It stays dark.',
        fixes: [...freeSocket(model, d.id), ...ownPower(model, d.id)],
      }
    }
  },
})

const ways = {
  class: 'IEEE 802.3 source power by class',
  lldp: 'as asked over LLDP, with the loss in the cable',
  measured: 'as measured, with the loss in the cable',
} as const

/** A free socket of the same switch whose type serves the class. */
function strongerSocket(model: SiteModel, deviceId: string, poeClass: number): Fix[] {
  const plug = model.portsOf(deviceId).find((p) => model.profilePortOf(p.id).poeIn)
  const link = plug && model.linkAt(plug.id)
  const peer = plug && model.peerOf(plug.id)
  if (!link || !peer) return []
  const socket = model.portsOf(peer.deviceId).find((p) => {
    const type = model.profilePortOf(p.id).poeOutType
    return type !== null && highestClassOfType[type] >= poeClass && !model.linkAt(p.id)
  })
  return socket
    ? [
        {
          label: `Move the plug to ${model.portName(socket.id)}`,
          edits: [
            editCall('movePlug', { linkId: link.id, fromPortId: peer.id, toPortId: socket.id }),
          ],
        },
      ]
    : []
}

/** Own supply, where mains is in reach of where it stands. */
function ownPower(model: SiteModel, deviceId: string): Fix[] {
  const d = model.device(deviceId)
  const location = d.locationId ? model.plan.locations[d.locationId] : undefined
  if (location && !location.mains) return []
  return [
    {
      label: `Power ${d.name} from an outlet`,
      edits: [editCall('changeDevice', { id: d.id, changes: { power: 'outlet' } })],
    },
  ]
}

/**
 * A free powered socket on a switch with power to spare, for a device whose plug is in a dead one.
 */
function freeSocket(model: SiteModel, deviceId: string): Fix[] {
  const plug = model.portsOf(deviceId).find((p) => model.profilePortOf(p.id).poeIn)
  const link = plug && model.linkAt(plug.id)
  const peer = plug && model.peerOf(plug.id)
  if (!link || !peer) return []
  const socket = model
    .portsOf(peer.deviceId)
    .find((p) => model.profilePortOf(p.id).poeOutType !== null && !model.linkAt(p.id))
  if (!socket) return []
  return [
    {
      label: `Move the plug to ${model.portName(socket.id)}`,
      edits: [editCall('movePlug', { linkId: link.id, fromPortId: peer.id, toPortId: socket.id })],
    },
  ]
}
