/** Sockets, and the VLANs that they carry. */
import { z } from 'zod'
import type { Device } from './device'
import { defineKind } from './kind'
import type { Profile } from './profile'
import { idSchema, portIdOf, portNameSchema } from '../values'

export const portSchema = z.strictObject({
  id: idSchema,
  deviceId: idSchema,
  name: portNameSchema,
  /** Segment whose frames travel without a tag here, both ways. */
  untaggedSegmentId: idSchema.nullable(),
  taggedSegmentIds: z.array(idSchema).max(128),
})

export type Port = z.infer<typeof portSchema>

interface Around {
  devices: Record<string, Device>
  profiles: Record<string, Profile>
}
export const ports = defineKind({
  collection: 'ports',
  noun: 'Port',
  word: 'port',
  plural: 'ports',
  schema: portSchema,
  most: 60_000,
  together: { untaggedSegmentId: 'VLANs', taggedSegmentIds: 'VLANs' },
  deciding: ['deviceId'],
  fieldWords: { untaggedSegmentId: 'untagged', taggedSegmentIds: 'tagged' },
  nameOf: (p, plan: Around) => `${plan.devices[p.deviceId]?.name ?? p.deviceId} port ${p.name}`,
  references: [
    { at: 'deviceId', to: ['devices'], whenGone: 'remove' },
    { at: 'untaggedSegmentId', to: ['segments'], whenGone: 'clear' },
    { at: 'taggedSegmentIds.*', to: ['segments'], whenGone: 'drop' },
  ],
  check(p, plan: Around, say) {
    if (new Set(p.taggedSegmentIds).size !== p.taggedSegmentIds.length)
      say(['taggedSegmentIds'], 'a segment stands here twice')
    const id = portIdOf(p.deviceId, p.name)
    if (p.id !== id) say([], `the port '${p.name}' of '${p.deviceId}' must have the id '${id}'`)
    const profile = plan.profiles[plan.devices[p.deviceId]?.profileId ?? '']
    if (profile && !profile.ports.some((q) => q.name === p.name))
      say([], `the profile '${profile.name}' has no port '${p.name}'`)
  },
})
