/**
 * Edits of devices. A device brings the ports of its profile with it and takes them, and their
 * links, away.
 */
import type { Draft } from 'immer'
import { z } from 'zod'
import { catalogue } from '../catalogue'
import { defineEdit, EditRefused } from '../edit'
import { own } from '../inherited'
import { removeEntity } from '../removal'
import {
  deviceSchema,
  devices,
  idSchema,
  portIdOf,
  profileSchema,
  type Device,
  type Profile,
  type SitePlan,
} from '../schema'

/** What must be told of a new device; the rest has defaults. */
export const newDeviceSchema = deviceSchema
  .partial()
  .required({ id: true, name: true, profileId: true })
  .strict()
export type NewDevice = z.infer<typeof newDeviceSchema>

/** A profile of the plan, or of the catalogue, which the plan then has too. */
function takenIn(draft: Draft<SitePlan>, profileId: string): Profile {
  const profile = draft.profiles[profileId] ?? own(catalogue, profileId)
  if (!profile)
    throw new EditRefused(
      `there is no profile '${profileId}'; the catalogue has ${Object.keys(catalogue).join(', ')}`,
    )
  draft.profiles[profile.id] ??= structuredClone(profile) as Draft<Profile>
  return profile
}
function addDeviceTo(draft: Draft<SitePlan>, given: NewDevice): void {
  if (Object.hasOwn(draft.devices, given.id))
    throw new EditRefused(`there is a device '${given.id}' already`)
  const profile = takenIn(draft, given.profileId)
  draft.devices[given.id] = {
    ...structuredClone(devices.blank),
    power: usualPower(profile),
    ...given,
  }
  addPortsTo(draft, given.id, profile)
}
function usualPower(profile: Profile): Device['power'] {
  if (profile.leadM === null && profile.poeClass !== null) return 'poe'
  return profile.kind === 'host' && profile.air.length > 0 ? 'battery' : 'outlet'
}
function addPortsTo(draft: Draft<SitePlan>, deviceId: string, profile: Profile): void {
  for (const p of profile.ports) {
    const id = portIdOf(deviceId, p.name)
    draft.ports[id] = { id, deviceId, name: p.name, untaggedSegmentId: null, taggedSegmentIds: [] }
  }
}

const addDevice = defineEdit({
  name: 'addDevice',
  args: newDeviceSchema,
  apply: addDeviceTo,
  describe: (_, args) => `Add ${args.name}`,
})

const addDevices = defineEdit({
  name: 'addDevices',
  args: z.strictObject({ devices: z.array(newDeviceSchema).min(1).max(2000) }),
  apply(draft, { devices }) {
    for (const d of devices) addDeviceTo(draft, d)
  },
  describe: (_, { devices }) =>
    `Import ${devices.length} ${devices.length === 1 ? 'device' : 'devices'}`,
})

const changeDevice = defineEdit({
  name: 'changeDevice',
  args: z.strictObject({
    id: idSchema,
    changes: deviceSchema.omit({ id: true, profileId: true }).partial(),
  }),
  apply(draft, { id, changes }) {
    const device = draft.devices[id]
    if (!device)
      throw new EditRefused(`there is no device '${id}'; it may have been removed meanwhile`)
    Object.assign(device, changes)
  },
  describe: (plan, { id, changes }) =>
    `Change ${Object.keys(changes).join(', ')} of ${plan.devices[id]?.name ?? id}`,
})

const removeDevice = defineEdit({
  name: 'removeDevice',
  args: z.strictObject({ id: idSchema }),
  apply(draft, { id }) {
    if (!draft.devices[id])
      throw new EditRefused(`there is no device '${id}'; it may have been removed meanwhile`)
    removeEntity(draft, 'devices', id)
  },
  describe: (plan, { id }) => `Remove ${plan.devices[id]?.name ?? id} with its ports and cables`,
})

const replaceDevice = defineEdit({
  name: 'replaceDevice',
  args: z.strictObject({ id: idSchema, profileId: idSchema }),
  apply(draft, { id, profileId }) {
    const device = draft.devices[id]
    if (!device)
      throw new EditRefused(`there is no device '${id}'; it may have been removed meanwhile`)
    const profile = takenIn(draft, profileId)
    const before = draft.profiles[device.profileId]!
    const inUse = (portId: string): boolean =>
      Object.values(draft.links).some((l) => l.a === portId || l.b === portId) ||
      Object.values(draft.uplinks).some((u) => u.portId === portId)
    const old = before.ports
      .map((p) => draft.ports[portIdOf(id, p.name)]!)
      .filter((p) => inUse(p.id))
    const moves = socketsFor(
      old.map((p) => p.name),
      before,
      profile,
    )
    if (!moves)
      throw new EditRefused(
        `${profile.name} has too few sockets of the kinds that are in use on ${device.name}`,
      )
    const plugged = old.map((p) => ({
      from: p.id,
      to: portIdOf(id, moves.get(p.name)!),
      untaggedSegmentId: p.untaggedSegmentId,
      taggedSegmentIds: [...p.taggedSegmentIds],
    }))
    for (const p of before.ports) delete draft.ports[portIdOf(id, p.name)]
    addPortsTo(draft, id, profile)
    const at = new Map(plugged.map((m) => [m.from, m.to]))
    for (const l of Object.values(draft.links))
      Object.assign(l, { a: at.get(l.a) ?? l.a, b: at.get(l.b) ?? l.b })
    for (const u of Object.values(draft.uplinks))
      if (u.portId) u.portId = at.get(u.portId) ?? u.portId
    for (const { to, untaggedSegmentId, taggedSegmentIds } of plugged)
      Object.assign(draft.ports[to]!, { untaggedSegmentId, taggedSegmentIds })
    if (profile.air.length === 0) {
      for (const w of Object.values(draft.wirelessNetworks))
        w.accessPointIds = w.accessPointIds.filter((a) => a !== id)
      device.wirelessNetworkId = null
    }
    if (
      profile.kind !== 'controller' &&
      !profile.limits.controllerCapacity &&
      draft.controller.hostDeviceId === id
    )
      draft.controller.hostDeviceId = null
    // Another box: what was read off the old one's label is no longer true.
    Object.assign(device, {
      profileId,
      serial: null,
      hardwareAddress: null,
      firmware: null,
      firmwareWanted: null,
      licencesHeld: [],
      stays: false,
      power: usualPower(profile),
    })
  },
  describe: (plan, { id, profileId }) =>
    `Put ${(plan.profiles[profileId] ?? catalogue[profileId])?.name ?? profileId} in the ` +
    `place of ${plan.devices[id]?.name ?? id}`,
})

/**
 * Where each plug of a device goes in another one: into the socket of the same name and kind, else
 * into the first free one of its kind.
 */
function socketsFor(
  names: readonly string[],
  before: Profile,
  after: Profile,
): Map<string, string> | undefined {
  const kindOf = (profile: Profile, name: string): string | undefined => {
    const p = profile.ports.find((x) => x.name === name)
    return p && `${p.role} ${p.medium}`
  }
  const same = names.filter((n) => kindOf(before, n) === kindOf(after, n))
  const moves = new Map(same.map((n) => [n, n]))
  for (const n of names) {
    if (moves.has(n)) continue
    const taken = new Set(moves.values())
    const to = after.ports.find(
      (p) => !taken.has(p.name) && kindOf(after, p.name) === kindOf(before, n),
    )
    if (!to) return undefined
    moves.set(n, to.name)
  }
  return moves
}

const addProfile = defineEdit({
  name: 'addProfile',
  args: profileSchema,
  apply(draft, profile) {
    if (draft.profiles[profile.id])
      throw new EditRefused(`there is a profile '${profile.id}' already`)
    draft.profiles[profile.id] = profile
  },
  describe: (_, profile) => `Add profile ${profile.name}`,
})

/**
 * Changes what a kind of device can do, for all devices of it. While there is one, sockets keep
 * their names: cables are in them.
 */
const changeProfile = defineEdit({
  name: 'changeProfile',
  args: z.strictObject({ id: idSchema, changes: profileSchema.omit({ id: true }).partial() }),
  apply(draft, { id, changes }) {
    const profile = draft.profiles[id]
    if (!profile)
      throw new EditRefused(`there is no profile '${id}'; it may have been removed meanwhile`)
    const user = Object.values(draft.devices).find((d) => d.profileId === id)
    if (
      user &&
      changes.ports &&
      changes.ports.map((p) => p.name).join() !== profile.ports.map((p) => p.name).join()
    )
      throw new EditRefused(
        `the sockets of a profile keep their names while a device is of it, and ${user.name} ` +
          'is; make another profile for other sockets',
      )
    if (user && changes.kind && changes.kind !== profile.kind)
      throw new EditRefused(
        `${user.name} is of this profile; make another profile for another kind of device`,
      )
    Object.assign(profile, changes)
  },
  describe: (plan, { id, changes }) =>
    `Change ${Object.keys(changes).join(', ')} of profile ${plan.profiles[id]?.name ?? id}`,
})

const removeProfile = defineEdit({
  name: 'removeProfile',
  args: z.strictObject({ id: idSchema }),
  apply(draft, { id }) {
    removeEntity(draft, 'profiles', id)
  },
  describe: (plan, { id }) => `Remove profile ${plan.profiles[id]?.name ?? id}`,
})

export const deviceEditList = [
  addDevice,
  addDevices,
  changeDevice,
  replaceDevice,
  removeDevice,
  addProfile,
  changeProfile,
  removeProfile,
]
