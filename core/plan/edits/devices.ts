/** Edits of devices. A device brings the ports of its profile with it and takes them, and their links, away. */
import type { Draft } from 'immer'
import { z } from 'zod'
import { catalogue } from '../catalogue'
import { blankDevice } from '../create'
import { defineEdit, EditRefused } from '../edit'
import { deviceSchema, idSchema, portIdOf, profileSchema, type SitePlan } from '../schema'

/** What must be told of a new device; the rest has defaults. */
export const newDeviceSchema = deviceSchema.partial().required({ id: true, name: true, profileId: true }).strict()
export type NewDevice = z.infer<typeof newDeviceSchema>

function addDeviceTo(draft: Draft<SitePlan>, given: NewDevice): void {
  if (Object.hasOwn(draft.devices, given.id)) throw new EditRefused(`there is a device '${given.id}' already`)
  const profile = draft.profiles[given.profileId] ?? catalogue[given.profileId]
  if (!profile) throw new EditRefused(`there is no profile '${given.profileId}'; the catalogue has ${Object.keys(catalogue).join(', ')}`)
  draft.profiles[profile.id] ??= structuredClone(profile) as Draft<typeof profile>
  const power = profile.leadM === null && profile.poeClass !== null ? 'poe' : profile.kind === 'host' && profile.radios > 0 ? 'battery' : 'outlet'
  draft.devices[given.id] = { ...structuredClone(blankDevice), power, ...given }
  for (const p of profile.ports) {
    const id = portIdOf(given.id, p.name)
    draft.ports[id] = { id, deviceId: given.id, name: p.name, untaggedSegmentId: null, taggedSegmentIds: [] }
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
  describe: (_, { devices }) => `Import ${devices.length} ${devices.length === 1 ? 'device' : 'devices'}`,
})

const changeDevice = defineEdit({
  name: 'changeDevice',
  args: z.strictObject({ id: idSchema, changes: deviceSchema.omit({ id: true, profileId: true }).partial() }),
  apply(draft, { id, changes }) {
    const device = draft.devices[id]
    if (!device) throw new EditRefused(`there is no device '${id}'; it may have been removed meanwhile`)
    Object.assign(device, changes)
  },
  describe: (plan, { id, changes }) => `Change ${Object.keys(changes).join(', ')} of ${plan.devices[id]?.name ?? id}`,
})

const removeDevice = defineEdit({
  name: 'removeDevice',
  args: z.strictObject({ id: idSchema }),
  apply(draft, { id }) {
    if (!draft.devices[id]) throw new EditRefused(`there is no device '${id}'; it may have been removed meanwhile`)
    const gone = new Set(Object.values(draft.ports).filter((p) => p.deviceId === id).map((p) => p.id))
    for (const [linkId, l] of Object.entries(draft.links)) if (gone.has(l.a) || gone.has(l.b)) delete draft.links[linkId]
    for (const u of Object.values(draft.uplinks)) if (u.portId && gone.has(u.portId)) u.portId = null
    for (const w of Object.values(draft.wirelessNetworks)) w.accessPointIds = w.accessPointIds.filter((a) => a !== id)
    if (draft.controller.hostDeviceId === id) draft.controller.hostDeviceId = null
    for (const portId of gone) delete draft.ports[portId]
    delete draft.devices[id]
  },
  describe: (plan, { id }) => `Remove ${plan.devices[id]?.name ?? id} with its ports and cables`,
})

const addProfile = defineEdit({
  name: 'addProfile',
  args: profileSchema,
  apply(draft, profile) {
    if (draft.profiles[profile.id]) throw new EditRefused(`there is a profile '${profile.id}' already`)
    draft.profiles[profile.id] = profile
  },
  describe: (_, profile) => `Add profile ${profile.name}`,
})

/** Changes what a kind of device can do, for all devices of it. Sockets keep their names: cables are in them. */
const changeProfile = defineEdit({
  name: 'changeProfile',
  args: z.strictObject({ id: idSchema, changes: profileSchema.omit({ id: true }).partial() }),
  apply(draft, { id, changes }) {
    const profile = draft.profiles[id]
    if (!profile) throw new EditRefused(`there is no profile '${id}'; it may have been removed meanwhile`)
    if (changes.ports && changes.ports.map((p) => p.name).join() !== profile.ports.map((p) => p.name).join()) throw new EditRefused('the sockets of a profile keep their names; make another profile for other sockets')
    Object.assign(profile, changes)
  },
  describe: (plan, { id, changes }) => `Change ${Object.keys(changes).join(', ')} of profile ${plan.profiles[id]?.name ?? id}`,
})

const removeProfile = defineEdit({
  name: 'removeProfile',
  args: z.strictObject({ id: idSchema }),
  apply(draft, { id }) {
    const user = Object.values(draft.devices).find((d) => d.profileId === id)
    if (user) throw new EditRefused(`${user.name} is of this kind; remove it first`)
    delete draft.profiles[id]
  },
  describe: (plan, { id }) => `Remove profile ${plan.profiles[id]?.name ?? id}`,
})

export const deviceEditList = [addDevice, addDevices, changeDevice, removeDevice, addProfile, changeProfile, removeProfile]
