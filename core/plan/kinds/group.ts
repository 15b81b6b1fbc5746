/** Hosts and segments under one name. */
import { z } from 'zod'
import { defineKind } from './kind'
import { idSchema, nameSchema } from '../values'

/** Hosts and segments under one name. */
export const groupSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  /** Ids of devices and segments. */ memberIds: z.array(idSchema).max(256),
})

export const groups = defineKind({
  collection: 'groups',
  noun: 'Group',
  word: 'group',
  plural: 'groups',
  schema: groupSchema,
  most: 200,
  fieldWords: { memberIds: 'members' },
  references: [{ at: 'memberIds.*', to: ['devices', 'segments'], whenGone: 'drop' }],
  check(g, _, say) {
    if (new Set(g.memberIds).size !== g.memberIds.length)
      say(['memberIds'], 'a member stands here twice')
  },
})
