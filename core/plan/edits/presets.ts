/**
 * The next device of the same kind: everything carries over but its name, its address and where
 * exactly it hangs, and what its own label says.
 */
import type { Draft } from 'immer'
import { z } from 'zod'
import { defineEdit, EditRefused } from '../edit'
import { deviceSchema, devices, idSchema, portIdOf, type Device, type SitePlan } from '../schema'

const carriedFrom = (d: Draft<Device>): Partial<Device> =>
  structuredClone({
    locationId: d.locationId,
    power: d.power,
    serviceIds: [...d.serviceIds],
    wirelessNetworkId: d.wirelessNetworkId,
    radios: d.radios.map((r) => ({ ...r })),
    mode: d.mode,
    listensToId: d.listensToId,
    school: d.school,
    setUpAt: d.setUpAt,
    setUpBy: d.setUpBy,
  })

/** VLANs of sockets, and the networks that it sends. */
function carryNets(draft: Draft<SitePlan>, likeId: string, id: string): void {
  for (const { name } of draft.profiles[draft.devices[id]!.profileId]!.ports) {
    const { untaggedSegmentId, taggedSegmentIds } = draft.ports[portIdOf(likeId, name)]!
    Object.assign(draft.ports[portIdOf(id, name)]!, {
      untaggedSegmentId,
      taggedSegmentIds: [...taggedSegmentIds],
    })
  }
  for (const w of Object.values(draft.wirelessNetworks)) {
    const sends = w.accessPointIds.includes(likeId)
    w.accessPointIds = w.accessPointIds.filter((x) => x !== id)
    if (sends) w.accessPointIds.push(id)
  }
}

const likeOf = (draft: Draft<SitePlan>, likeId: string): Draft<Device> => {
  const like = draft.devices[likeId]
  if (!like)
    throw new EditRefused(`there is no device '${likeId}'; it may have been removed meanwhile`)
  return like
}

const addDeviceLike = defineEdit({
  name: 'addDeviceLike',
  args: z.strictObject({ likeId: idSchema, id: idSchema, name: deviceSchema.shape.name }),
  apply(draft, { likeId, id, name }) {
    const like = likeOf(draft, likeId)
    if (Object.hasOwn(draft.devices, id)) throw new EditRefused(`there is a device '${id}' already`)
    const { mode, segmentId, gateway } = like.addressing
    draft.devices[id] = {
      ...structuredClone(devices.blank),
      ...carriedFrom(like),
      ...{ id, name, profileId: like.profileId },
      addressing: { mode, segmentId, address: null, gateway },
    } as Draft<Device>
    for (const { name: port } of draft.profiles[like.profileId]!.ports) {
      const portId = portIdOf(id, port)
      draft.ports[portId] = {
        id: portId,
        deviceId: id,
        name: port,
        untaggedSegmentId: null,
        taggedSegmentIds: [],
      }
    }
    carryNets(draft, likeId, id)
  },
  describe: (plan, { likeId, name }) => `Add ${name}, like ${plan.devices[likeId]?.name ?? likeId}`,
})

/** Of one that is there already: it keeps its name, address, place and label. */
const takeAfter = defineEdit({
  name: 'takeAfter',
  args: z.strictObject({ likeId: idSchema, id: idSchema }),
  apply(draft, { likeId, id }) {
    const like = likeOf(draft, likeId)
    const device = likeOf(draft, id)
    if (like.profileId !== device.profileId)
      throw new EditRefused(
        `${device.name} is of another kind than ${like.name}: their settings do not fit each other`,
      )
    const { locationId, addressing } = device
    Object.assign(device, carriedFrom(like), {
      locationId,
      addressing: {
        ...addressing,
        ...(addressing.segmentId === null ? { ...like.addressing, address: null } : {}),
      },
    })
    carryNets(draft, likeId, id)
  },
  describe: (plan, { likeId, id }) =>
    `Set ${plan.devices[id]?.name ?? id} like ${plan.devices[likeId]?.name ?? likeId}`,
})

export const presetEditList = [addDeviceLike, takeAfter]
