/** Intents: who may reach what, and when. */
import { z } from 'zod'
import { defineKind } from './kind'
import { idSchema, textSchema } from '../values'

/**
 * The network of the provider's own router on the line, which is not the internet. No id looks like
 * it.
 */
export const PROVIDER_LAN = '@line'

/** The gateway itself and the pages of all managed devices. */
export const MANAGED = '@devices'

/**
 * As a source every segment of the site, never the internet; as a target every segment, and the
 * internet.
 */
export const ANYWHERE = '@any'

/** The id of a segment, a device, a group, a tunnel or a peer, `internet`, or every segment. */
export const sourceSchema = z.union([z.literal('internet'), z.literal(ANYWHERE), idSchema])

/** Where a connection may lead: the provider's own network and the managed devices as well. */
export const placeSchema = z.union([z.literal(PROVIDER_LAN), z.literal(MANAGED), sourceSchema])

/** Hours of the week, in the site's time zone. */
export const hoursSchema = z
  .strictObject({
    /** On which it begins: 1 is Monday, 7 Sunday (ISO 8601). */
    days: z
      .array(z.int().min(1).max(7))
      .min(1, 'at least one day is needed')
      .max(7)
      .refine((d) => new Set(d).size === d.length, 'a day stands here twice'),
    /** Minutes after midnight. Ends on the next day where it is not after the beginning. */
    fromMinute: z.int().min(0).max(1439),
    toMinute: z.int().min(0).max(1440),
  })
  .refine((h) => h.fromMinute !== h.toMinute, 'hours end at another time than they begin')

export const intentSchema = z.strictObject({
  id: idSchema,
  from: sourceSchema,
  to: placeSchema,
  /** A service id, or `any`. */
  service: z.union([z.literal('any'), idSchema]),
  action: z.enum(['allow', 'deny']),
  /** Lower is looked at first. */
  rank: z.int().min(0).max(1_000_000),
  /** When it holds; null is always. */
  hours: hoursSchema.nullable(),
  reason: textSchema,
})

export type Intent = z.infer<typeof intentSchema>
export type Place = z.infer<typeof placeSchema>
export type Hours = z.infer<typeof hoursSchema>

/** Places of intents that are no entity of the plan, in words. */
export const fixedPlaces: Readonly<Record<string, string>> = {
  internet: 'the internet',
  [PROVIDER_LAN]: "the provider's own network",
  [MANAGED]: 'the gateway and the pages of devices',
  [ANYWHERE]: 'everywhere',
}
const isFixedPlace = (place: string): boolean => Object.hasOwn(fixedPlaces, place)
const placeKinds = ['segments', 'devices', 'groups', 'tunnels', 'peers'] as const

export const intents = defineKind({
  collection: 'intents',
  noun: 'Intent',
  word: 'intent',
  plural: 'intents',
  schema: intentSchema,
  most: 3000,
  blank: { hours: null },
  isOneStatement: true,
  fieldWords: { fromMinute: 'from, min', toMinute: 'to, min' },
  nameOf: (i, _, named) => `${named(i.from)} to ${named(i.to)}`,
  references: [
    { at: 'from', to: placeKinds, unless: isFixedPlace, whenGone: 'remove' },
    { at: 'to', to: placeKinds, unless: isFixedPlace, whenGone: 'remove' },
    { at: 'service', to: ['services'], unless: (s) => s === 'any', whenGone: 'remove' },
  ],
  check(i, _, say) {
    if (i.from === i.to && i.from !== ANYWHERE)
      say([], 'from and to are the same; traffic inside a segment does not pass the gateway')
  },
})
