/** Edits of the site itself, its controller, its hand-offs, its intents as a grid. */
import { z } from 'zod'
import { defineEdit, EditRefused } from '../edit'
import { controllerSchema, handOffSchema, idSchema, placeSchema, PROVIDER_LAN, sourceSchema, siteSchema, type Place, type SitePlan } from '../schema'

const changeSite = defineEdit({
  name: 'changeSite',
  args: siteSchema.omit({ preferences: true }).partial().extend({ preferences: siteSchema.shape.preferences.partial().optional() }),
  apply(draft, { preferences, ...changes }) {
    Object.assign(draft.site, changes)
    Object.assign(draft.site.preferences, preferences)
  },
  describe: (_, args) => `Change ${[...Object.keys(args).filter((k) => k !== 'preferences'), ...Object.keys(args.preferences ?? {})].join(', ')} of the site`,
})

const setController = defineEdit({
  name: 'setController',
  args: controllerSchema.partial(),
  apply(draft, changes) { Object.assign(draft.controller, changes) },
  describe: (plan, args) => args.hostDeviceId ? `Run the controller on ${plan.devices[args.hostDeviceId]?.name ?? args.hostDeviceId}` : 'Change the controller',
})

const recordHandOff = defineEdit({
  name: 'recordHandOff',
  args: z.strictObject({ uplinkId: idSchema, facts: handOffSchema.partial() }),
  apply(draft, { uplinkId, facts }) {
    const uplink = draft.uplinks[uplinkId]
    if (!uplink) throw new EditRefused(`there is no uplink '${uplinkId}'`)
    Object.assign(uplink.handOff, facts)
  },
  describe: (plan, { uplinkId, facts }) => `Record ${Object.keys(facts).join(', ')} of ${plan.uplinks[uplinkId]?.name ?? uplinkId}`,
})

const placeName = (plan: SitePlan, place: Place): string => (place === 'internet' ? 'the internet' : place === PROVIDER_LAN ? 'the provider\'s own network' : plan.segments[place]?.name ?? place)

/** States one cell of the grid: replaces every intent of that pair by one. */
const stateIntent = defineEdit({
  name: 'stateIntent',
  args: z.strictObject({
    id: idSchema, from: sourceSchema, to: placeSchema,
    services: z.union([z.literal('any'), z.array(idSchema).min(1).max(16)]),
    action: z.enum(['allow', 'deny']), reason: z.string().max(200).default(''),
  }),
  apply(draft, { id, from, to, services, action, reason }) {
    for (const [key, intent] of Object.entries(draft.intents)) if (intent.from === from && intent.to === to) delete draft.intents[key]
    const ranks = Object.values(draft.intents).map((i) => i.rank)
    const start = Math.max(0, ...ranks) + 10
    const list = services === 'any' ? ['any' as const] : services
    list.forEach((service, n) => {
      const key = n === 0 ? id : `${id}-${n + 1}`
      if (draft.intents[key]) throw new EditRefused(`there is an intent '${key}' already`)
      draft.intents[key] = { id: key, from, to, service, action, rank: start + n, reason }
    })
  },
  describe: (plan, { from, to, services, action }) =>
    `${action === 'allow' ? 'Allow' : 'Deny'} ${services === 'any' ? 'everything' : services.map((s) => plan.services[s]?.name ?? s).join(', ')} from ${placeName(plan, from)} to ${placeName(plan, to)}`,
})

/** Leaves a pair to the default. */
const clearIntents = defineEdit({
  name: 'clearIntents',
  args: z.strictObject({ from: sourceSchema, to: placeSchema }),
  apply(draft, { from, to }) {
    for (const [key, intent] of Object.entries(draft.intents)) if (intent.from === from && intent.to === to) delete draft.intents[key]
  },
  describe: (plan, { from, to }) => `Leave ${placeName(plan, from)} to ${placeName(plan, to)} to the default`,
})

/** Denies everything from one segment to several, ahead of what allows it. */
const denyPairs = defineEdit({
  name: 'denyPairs',
  args: z.strictObject({ from: idSchema, to: z.array(idSchema).min(1), reason: z.string().max(200) }),
  apply(draft, { from, to, reason }) {
    for (const target of to) {
      for (const [key, intent] of Object.entries(draft.intents)) if (intent.from === from && intent.to === target && intent.action === 'allow') delete draft.intents[key]
      const id = `deny-${from}-${target}`
      draft.intents[id] = { id, from, to: target, service: 'any', action: 'deny', rank: 0, reason }
    }
  },
  describe: (plan, { from, to }) => `Keep ${placeName(plan, from)} out of ${to.map((t) => placeName(plan, t)).join(', ')}`,
})

export const siteEditList = [changeSite, setController, recordHandOff, stateIntent, clearIntents, denyPairs]
