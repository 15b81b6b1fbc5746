/** Choices of lines: who may leave by which of them, and in which order. */
import { z } from 'zod'
import { defineKind } from './kind'
import { ANYWHERE } from './intent'
import { idSchema, textSchema } from '../values'

/**
 * What leaves the site from somewhere, for some service, goes by these lines and no others, the
 * first that leads anywhere; where several choices fit, the lowest rank decides. What no choice
 * speaks of uses every line, in the order of the site.
 */
export const lineChoiceSchema = z.strictObject({
  id: idSchema,
  /** A segment, or every one. */
  from: z.union([z.literal(ANYWHERE), idSchema]),
  /** A service id, or `any`. */
  service: z.union([z.literal('any'), idSchema]),
  /** In the order in which they are used. */
  uplinkIds: z
    .array(idSchema)
    .max(16)
    .refine((ids) => new Set(ids).size === ids.length, 'a line stands here twice'),
  /** Lower is looked at first. */
  rank: z.int().min(0).max(1_000_000),
  reason: textSchema,
})
export type LineChoice = z.infer<typeof lineChoiceSchema>

export const lineChoices = defineKind({
  collection: 'lineChoices',
  noun: 'LineChoice',
  word: 'choice of lines',
  plural: 'choices of lines',
  schema: lineChoiceSchema,
  most: 200,
  isOneStatement: true,
  fieldWords: { uplinkIds: 'lines' },
  nameOf: (c, _, named) =>
    `lines of ${c.from === ANYWHERE ? 'everybody' : named(c.from)}` +
    (c.service === 'any' ? '' : ` for ${named(c.service)}`),
  references: [
    { at: 'from', to: ['segments'], unless: (f) => f === ANYWHERE, whenGone: 'remove' },
    { at: 'service', to: ['services'], unless: (s) => s === 'any', whenGone: 'remove' },
    { at: 'uplinkIds.*', to: ['uplinks'], whenGone: 'drop' },
  ],
})
