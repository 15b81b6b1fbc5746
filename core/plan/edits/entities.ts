/**
 * The plain edits that every kind of entity has: add, change, remove. Removing takes along what
 * would dangle.
 */
import type { Draft } from 'immer'
import { z } from 'zod'
import { blankLocation, blankSegment, blankUplink } from '../create'
import { defineEdit, EditRefused, type EditDefinition } from '../edit'
import {
  forwardSchema,
  groupSchema,
  idSchema,
  intentSchema,
  knownNetworkSchema,
  linkSchema,
  locationSchema,
  segmentSchema,
  serviceSchema,
  uplinkSchema,
  wirelessNetworkSchema,
  type Collection,
  type SitePlan,
} from '../schema'

type Named = { id: string; name?: string }
type Cascade = (draft: Draft<SitePlan>, id: string) => void

function entityEdits<C extends Exclude<Collection, 'devices' | 'ports' | 'profiles'>>(
  collection: C,
  word: string,
  Noun: string,
  schema: z.ZodObject,
  { blank = {}, cascade = () => {} }: { blank?: object; cascade?: Cascade } = {},
): EditDefinition<never>[] {
  const nameOf = (plan: SitePlan, id: string): string => {
    const entity = plan[collection][id] as Named | undefined
    return entity?.name ?? id
  }
  const must = (draft: Draft<SitePlan>, id: string): void => {
    if (!Object.hasOwn(draft[collection], id))
      throw new EditRefused(`there is no ${word} '${id}'; it may have been removed meanwhile`)
  }
  const add = defineEdit({
    name: `add${Noun}`,
    args: schema.partial(
      Object.fromEntries(Object.keys(blank).map((k) => [k, true])) as never,
    ) as unknown as z.ZodType<Named>,
    apply(draft, args) {
      if (Object.hasOwn(draft[collection], args.id))
        throw new EditRefused(`there is a ${word} '${args.id}' already`)
      Object.assign(draft[collection], { [args.id]: { ...structuredClone(blank), ...args } })
    },
    describe: (_, args) => `Add ${word} ${args.name ?? args.id}`,
  })
  const change = defineEdit({
    name: `change${Noun}`,
    args: z.strictObject({
      id: idSchema,
      changes: schema.omit({ id: true }).partial(),
    }) as unknown as z.ZodType<{ id: string; changes: object }>,
    apply(draft, { id, changes }) {
      must(draft, id)
      Object.assign(draft[collection][id]!, changes)
    },
    describe: (plan, { id, changes }) =>
      `Change ${Object.keys(changes).join(', ')} of ${word} ${nameOf(plan, id)}`,
  })
  const remove = defineEdit({
    name: `remove${Noun}`,
    args: z.strictObject({ id: idSchema }),
    apply(draft, { id }) {
      must(draft, id)
      cascade(draft, id)
      delete draft[collection][id]
    },
    describe: (plan, { id }) => `Remove ${word} ${nameOf(plan, id)}`,
  })
  return [add, change, remove] as unknown as EditDefinition<never>[]
}

const removeFromList = (list: string[], id: string): string[] => list.filter((x) => x !== id)
function removeIntents(
  draft: Draft<SitePlan>,
  which: (i: { from: string; to: string; service: string }) => boolean,
): void {
  for (const [id, intent] of Object.entries(draft.intents))
    if (which(intent)) delete draft.intents[id]
}

/**
 * Takes away what is said of a place that goes: its intents, its part in groups, the forwards that
 * lead to it.
 */
export function removePlace(draft: Draft<SitePlan>, id: string): void {
  removeIntents(draft, (i) => i.from === id || i.to === id)
  for (const g of Object.values(draft.groups))
    if (g.memberIds.includes(id)) g.memberIds = removeFromList(g.memberIds, id)
  for (const [key, f] of Object.entries(draft.forwards))
    if (f.deviceId === id) delete draft.forwards[key]
}

export const entityEditList = [
  ...entityEdits('locations', 'location', 'Location', locationSchema, {
    blank: blankLocation,
    cascade: (draft, id) => {
      for (const d of Object.values(draft.devices)) if (d.locationId === id) d.locationId = null
    },
  }),
  ...entityEdits('links', 'link', 'Link', linkSchema),
  ...entityEdits('segments', 'segment', 'Segment', segmentSchema, {
    blank: blankSegment,
    cascade: (draft, id) => {
      for (const p of Object.values(draft.ports)) {
        if (p.untaggedSegmentId === id) p.untaggedSegmentId = null
        if (p.taggedSegmentIds.includes(id))
          p.taggedSegmentIds = removeFromList(p.taggedSegmentIds, id)
      }
      for (const d of Object.values(draft.devices))
        if (d.addressing.segmentId === id)
          d.addressing = { mode: 'automatic', segmentId: null, address: null, gateway: null }
      for (const [wid, w] of Object.entries(draft.wirelessNetworks))
        if (w.segmentId === id) removeWireless(draft, wid)
      removePlace(draft, id)
    },
  }),
  ...entityEdits('uplinks', 'uplink', 'Uplink', uplinkSchema, { blank: blankUplink }),
  ...entityEdits('wirelessNetworks', 'wireless network', 'WirelessNetwork', wirelessNetworkSchema, {
    cascade: (draft, id) => {
      for (const d of Object.values(draft.devices))
        if (d.wirelessNetworkId === id) d.wirelessNetworkId = null
    },
  }),
  ...entityEdits('services', 'service', 'Service', serviceSchema, {
    cascade: (draft, id) => {
      for (const d of Object.values(draft.devices))
        if (d.serviceIds.includes(id)) d.serviceIds = removeFromList(d.serviceIds, id)
      removeIntents(draft, (i) => i.service === id)
    },
  }),
  ...entityEdits('groups', 'group', 'Group', groupSchema, {
    cascade: (draft, id) => removePlace(draft, id),
  }),
  ...entityEdits('intents', 'intent', 'Intent', intentSchema, { blank: { hours: null } }),
  ...entityEdits('forwards', 'port forward', 'Forward', forwardSchema),
  ...entityEdits('knownNetworks', 'known network', 'KnownNetwork', knownNetworkSchema),
]

function removeWireless(draft: Draft<SitePlan>, id: string): void {
  for (const d of Object.values(draft.devices))
    if (d.wirelessNetworkId === id) d.wirelessNetworkId = null
  delete draft.wirelessNetworks[id]
}
