/** Edits of the site itself, its controller, its hand-offs, its intents as a grid. */
import { worldProblems } from '../worldNames'
import type { Draft } from 'immer'
import { z } from 'zod'
import { defineEdit, EditRefused } from '../edit'
import { hoursWords } from '../hours'
import { intentsInOrder, placeCovers, placeName } from '../places'
import {
  controllerSchema,
  handOffSchema,
  hoursSchema,
  idSchema,
  intentSchema,
  placeSchema,
  sourceSchema,
  siteSchema,
  type Intent,
  type SitePlan,
} from '../schema'

const changeSite = defineEdit({
  name: 'changeSite',
  args: siteSchema.omit({ preferences: true, failover: true, wireless: true }).partial().extend({
    preferences: siteSchema.shape.preferences.partial().optional(),
    failover: siteSchema.shape.failover.partial().optional(),
    wireless: siteSchema.shape.wireless.partial().optional(),
  }),
  apply(draft, { preferences, failover, wireless, ...changes }) {
    const site = { ...draft.site, ...changes } as SitePlan['site']
    for (const { path, reason } of worldProblems({ site }))
      if (Object.hasOwn(changes, path[1]!)) throw new EditRefused(reason)
    Object.assign(draft.site, changes)
    Object.assign(draft.site.preferences, preferences)
    Object.assign(draft.site.failover, failover)
    Object.assign(draft.site.wireless, wireless)
  },
  describe(_, { preferences, failover, wireless, ...changes }) {
    const keys = [changes, preferences ?? {}, failover ?? {}, wireless ?? {}].flatMap((c) =>
      Object.keys(c),
    )
    return `Change ${keys.join(', ')} of the site`
  },
})

const setController = defineEdit({
  name: 'setController',
  args: controllerSchema.partial(),
  apply(draft, changes) {
    const host = draft.devices[changes.hostDeviceId ?? '']
    const profile = host && draft.profiles[host.profileId]
    if (profile?.kind === 'gateway' && !profile.limits.controllerCapacity)
      throw new EditRefused(`there is no controller inside ${host!.name} (${profile.name})`)
    // It is in one place.
    if (changes.hostDeviceId) Object.assign(draft.controller, { elsewhere: null, hosted: null })
    if (changes.elsewhere) Object.assign(draft.controller, { hostDeviceId: null, hosted: null })
    if (changes.hosted) Object.assign(draft.controller, { hostDeviceId: null, elsewhere: null })
    Object.assign(draft.controller, changes)
    const { port, bootstrap } = draft.controller
    if (bootstrap?.port === port)
      throw new EditRefused(
        `the controller answers its own devices at port ${port}: those from their box need another`,
      )
  },
  describe: (plan, args) =>
    args.hostDeviceId
      ? `Run the controller on ${plan.devices[args.hostDeviceId]?.name ?? args.hostDeviceId}`
      : args.hosted
        ? `Use the controller at ${args.hosted.name}`
        : 'Change the controller',
})

const recordHandOff = defineEdit({
  name: 'recordHandOff',
  args: z.strictObject({ uplinkId: idSchema, facts: handOffSchema.partial() }),
  apply(draft, { uplinkId, facts }) {
    const uplink = draft.uplinks[uplinkId]
    if (!uplink) throw new EditRefused(`there is no uplink '${uplinkId}'`)
    Object.assign(uplink.handOff, facts)
  },
  describe: (plan, { uplinkId, facts }) =>
    `Record ${Object.keys(facts).join(', ')} of ${plan.uplinks[uplinkId]?.name ?? uplinkId}`,
})

/**
 * Ranks for some new intents: after all others, but before those that speak of more, which would
 * decide first. The others move where there is no room between.
 */
function ranksFor(
  draft: Draft<SitePlan>,
  pair: Pick<Intent, 'from' | 'to'>,
  count: number,
): number[] {
  const ordered = intentsInOrder(draft)
  const isWider = (i: Intent): boolean =>
    placeCovers(draft, i.from, pair.from) && placeCovers(draft, i.to, pair.to)
  const at = ordered.findIndex(isWider)
  if (at === -1)
    return Array.from(
      { length: count },
      (_, n) => Math.max(0, ...ordered.map((i) => i.rank)) + 10 + n,
    )
  const from = at === 0 ? 0 : ordered[at - 1]!.rank + 1
  const missing = from + count - ordered[at]!.rank
  if (missing > 0) for (const i of ordered.slice(at)) draft.intents[i.id]!.rank += missing
  return Array.from({ length: count }, (_, n) => from + n)
}

/** The highest rank that an intent may have. */
const MOST_RANK = 1_000_000
/** Ranks say nothing but an order: where they run out, all are counted anew. */
function keepRanks(draft: Draft<SitePlan>): void {
  if (Object.values(draft.intents).every((i) => i.rank <= MOST_RANK)) return
  intentsInOrder(draft).forEach((i, n) => {
    draft.intents[i.id]!.rank = 10 * n
  })
}

/** States one cell of the grid: replaces every intent of that pair by one. */
const stateIntent = defineEdit({
  name: 'stateIntent',
  args: z.strictObject({
    id: idSchema,
    from: sourceSchema,
    to: placeSchema,
    services: z.union([z.literal('any'), z.array(idSchema).min(1).max(16)]),
    action: z.enum(['allow', 'deny']),
    reason: z.string().max(200).default(''),
    hours: hoursSchema.nullable().default(null),
  }),
  apply(draft, { id, from, to, services, action, reason, hours }) {
    for (const [key, intent] of Object.entries(draft.intents))
      if (intent.from === from && intent.to === to) delete draft.intents[key]
    const list = services === 'any' ? ['any' as const] : services
    const ranks = ranksFor(draft, { from, to }, list.length)
    list.forEach((service, n) => {
      const key = n === 0 ? id : `${id}-${n + 1}`
      if (draft.intents[key]) throw new EditRefused(`there is an intent '${key}' already`)
      draft.intents[key] = { id: key, from, to, service, action, rank: ranks[n]!, hours, reason }
    })
    keepRanks(draft)
  },
  describe: (plan, { from, to, services, action, hours }) =>
    `${action === 'allow' ? 'Allow' : 'Deny'} ` +
    `${services === 'any' ? 'everything' : services.map((s) => plan.services[s]?.name ?? s).join(', ')} ` +
    `from ${placeName(plan, from)} to ` +
    `${placeName(plan, to)}${hours ? `, ${hoursWords(hours)}` : ''}`,
})

/** Leaves a pair to the default. */
const clearIntents = defineEdit({
  name: 'clearIntents',
  args: z.strictObject({ from: sourceSchema, to: placeSchema }),
  apply(draft, { from, to }) {
    for (const [key, intent] of Object.entries(draft.intents))
      if (intent.from === from && intent.to === to) delete draft.intents[key]
  },
  describe: (plan, { from, to }) =>
    `Leave ${placeName(plan, from)} to ${placeName(plan, to)} to the default`,
})

/** Makes room at the very front, for a rank that nothing else has. */
function frontRank(draft: Draft<SitePlan>): number {
  const lowest = Math.min(...Object.values(draft.intents).map((i) => i.rank))
  if (lowest > 0) return lowest - 1
  for (const i of Object.values(draft.intents)) i.rank += 1
  return 0
}

/** Adds an intent ahead of all others. */
const stateFirst = defineEdit({
  name: 'stateFirst',
  args: intentSchema.omit({ rank: true, hours: true }),
  apply(draft, intent) {
    if (Object.hasOwn(draft.intents, intent.id))
      throw new EditRefused(`there is an intent '${intent.id}' already`)
    const rank = Object.keys(draft.intents).length > 0 ? frontRank(draft) : 10
    draft.intents[intent.id] = { ...intent, rank, hours: null }
    keepRanks(draft)
  },
  describe: (plan, { from, to, service, action }) =>
    `${action === 'allow' ? 'Allow' : 'Deny'} ` +
    `${service === 'any' ? 'everything' : (plan.services[service]?.name ?? service)} from ` +
    `${placeName(plan, from)} to ${placeName(plan, to)}, before everything else`,
})

/** Moves an intent ahead of another. */
const putIntentFirst = defineEdit({
  name: 'putIntentFirst',
  args: z.strictObject({ id: idSchema, before: idSchema }),
  apply(draft, { id, before }) {
    const [intent, other] = [draft.intents[id], draft.intents[before]]
    if (!intent || !other)
      throw new EditRefused(
        `there is no intent '${intent ? before : id}'; it may have been removed meanwhile`,
      )
    if (intent === other) throw new EditRefused('an intent cannot stand before itself')
    const ordered = intentsInOrder(draft).filter((i) => i.id !== id)
    const at = ordered.findIndex((i) => i.id === before)
    const from = at === 0 ? 0 : ordered[at - 1]!.rank + 1
    const missing = from + 1 - other.rank
    if (missing > 0) for (const i of ordered.slice(at)) draft.intents[i.id]!.rank += missing
    intent.rank = from
    keepRanks(draft)
  },
  describe: (plan, { id, before }) =>
    `Look at ${sentenceOf(plan, id)} before ${sentenceOf(plan, before)}`,
})
const sentenceOf = (plan: SitePlan, id: string): string => {
  const i = plan.intents[id]
  return i ? `${placeName(plan, i.from)} to ${placeName(plan, i.to)}` : id
}

/** Denies everything from one segment to several, ahead of what allows it. */
const denyPairs = defineEdit({
  name: 'denyPairs',
  args: z.strictObject({
    from: idSchema,
    to: z.array(idSchema).min(1),
    reason: z.string().max(200),
  }),
  apply(draft, { from, to, reason }) {
    for (const target of to) {
      for (const [key, intent] of Object.entries(draft.intents))
        if (intent.from === from && intent.to === target && intent.action === 'allow')
          delete draft.intents[key]
      const id = `deny-${from}-${target}`
      delete draft.intents[id]
      draft.intents[id] = {
        id,
        from,
        to: target,
        service: 'any',
        action: 'deny',
        rank: Object.keys(draft.intents).length > 0 ? frontRank(draft) : 0,
        hours: null,
        reason,
      }
    }
    keepRanks(draft)
  },
  describe: (plan, { from, to }) =>
    `Keep ${placeName(plan, from)} out of ${to.map((t) => placeName(plan, t)).join(', ')}`,
})

export const siteEditList = [
  changeSite,
  setController,
  recordHandOff,
  stateIntent,
  stateFirst,
  putIntentFirst,
  clearIntents,
  denyPairs,
]
