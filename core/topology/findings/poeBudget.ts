/**
 * C-18: power over the cable: the total over the budget, a class over the socket's type, more
 * devices than powered sockets.
 */
import { editCall } from '../../plan'
import {
  highestClassOfType,
  powerOf,
  sourcePowerW,
  type PowerBudget,
  type PoweredDevice,
  type SiteModel,
} from '../../topology'
import { defineRule, type Fix } from '../../findings/rule'
import { listWords } from '../../words'

const watts = (w: number): string => `${Number(w.toFixed(2))} W`

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
      yield {
        key: `budget:${b.deviceId}`,
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
          {
            label: 'drawn',
            value: watts(b.powered.reduce((sum, p) => sum + model.profileOf(p.deviceId).drawW, 0)),
            how: 'what the devices take at the most, from their profiles, without the loss in the cables',
          },
          { label: 'budget', value: watts(b.budgetW) },
          { label: 'powered sockets used', value: `${b.powered.length} of ${b.sockets}` },
        ],
        fixes: relief(model, b),
      }
    }
    for (const d of demoted) {
      // What arrives is enough where it draws less than its class allows.
      if (d.drawW <= d.givenW) continue
      const device = model.device(d.deviceId)
      yield {
        key: `class:${d.deviceId}`,
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
        key: `dark:${d.id}`,
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

/** How a device is powered without the switch, where mains is in reach of where it stands. */
function ownSupply(model: SiteModel, deviceId: string): 'outlet' | 'injector' | null {
  const d = model.device(deviceId)
  const location = d.locationId ? model.plan.locations[d.locationId] : undefined
  if (location && !location.mains) return null
  const { leadM, poeClass } = model.profileOf(deviceId)
  if (leadM !== null) return 'outlet'
  return poeClass !== null ? 'injector' : null
}
const supplyWords = {
  outlet: 'from an outlet',
  injector: 'by an injector beside an outlet',
} as const
function ownPower(model: SiteModel, deviceId: string): Fix[] {
  const power = ownSupply(model, deviceId)
  return power
    ? [
        {
          label: `Power ${model.device(deviceId).name} ${supplyWords[power]}`,
          edits: [editCall('changeDevice', { id: deviceId, changes: { power } })],
        },
      ]
    : []
}

/** How many devices that end it alone are offered. */
const MOST_ALONE = 3

/** Each device that ends it alone, else the fewest that end it together. */
function relief(model: SiteModel, b: PowerBudget): Fix[] {
  const over = b.reservedW - b.budgetW
  const movable = [...b.powered]
    .filter((p) => ownSupply(model, p.deviceId))
    .sort((x, y) => y.reservedW - x.reservedW || (x.deviceId < y.deviceId ? 1 : -1))
  const alone = movable.filter((p) => p.reservedW >= over)
  if (alone.length > 0)
    return alone.slice(0, MOST_ALONE).flatMap((p) => ownPower(model, p.deviceId))
  const together: PoweredDevice[] = []
  let left = over
  for (const p of movable) {
    if (left <= 0) break
    together.push(p)
    left -= p.reservedW
  }
  if (left > 0) return []
  const named = (power: 'outlet' | 'injector'): string[] =>
    together
      .filter((p) => ownSupply(model, p.deviceId) === power)
      .map((p) => model.device(p.deviceId).name)
  const words = (['outlet', 'injector'] as const).flatMap((power) =>
    named(power).length > 0
      ? [`${listWords(named(power))} ${power === 'outlet' ? 'from outlets' : 'by injectors'}`]
      : [],
  )
  return [
    {
      label: `Power ${listWords(words)}: ${together.length} are needed`,
      edits: together.map((p) =>
        editCall('changeDevice', {
          id: p.deviceId,
          changes: { power: ownSupply(model, p.deviceId)! },
        }),
      ),
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
  const budget = powerOf(model).budgets.find((b) => b.deviceId === peer.deviceId)
  const wantedW = sourcePowerW[model.profileOf(deviceId).poeClass ?? 0]!
  if (!budget || budget.reservedW + wantedW > budget.budgetW) return []
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
