/** The kinds of entity that a plan has, in the order in which they stand in the document. */
import { areas } from './area'
import { bridges } from './bridge'
import { clientTypes } from './clientType'
import { controller } from './controller'
import { devices } from './device'
import { floors } from './floor'
import { forwards } from './forward'
import { groups } from './group'
import { intents } from './intent'
import type { Kind, Single } from './kind'
import { knownNetworks } from './knownNetwork'
import { lineChoices } from './lineChoice'
import { links } from './link'
import { locations } from './location'
import { peers } from './peer'
import { ports } from './port'
import { profiles } from './profile'
import { segments } from './segment'
import { services } from './service'
import { site } from './site'
import { scans } from './scan'
import { tunnels } from './tunnel'
import { uplinks } from './uplink'
import { walks } from './walk'
import { walls } from './wall'
import { wirelessNetworks } from './wirelessNetwork'

export const kinds = [
  locations,
  profiles,
  devices,
  ports,
  links,
  segments,
  uplinks,
  wirelessNetworks,
  services,
  groups,
  intents,
  forwards,
  lineChoices,
  knownNetworks,
  floors,
  walls,
  areas,
  clientTypes,
  walks,
  scans,
  bridges,
  tunnels,
  peers,
] as const

export type PlanKind = (typeof kinds)[number]
/** The key of the map that a kind's entities live in. */
export type Collection = PlanKind['collection']
export const collections: readonly Collection[] = kinds.map((k) => k.collection)

/** Parts of the plan that there is one of. */
export const singles = [site, controller] as const
export type Top = Collection | (typeof singles)[number]['top']

const byCollection = new Map<unknown, Kind>(kinds.map((k) => [k.collection, k as Kind]))
const byTop = new Map<unknown, Single>(singles.map((s) => [s.top, s as Single]))
export const isCollection = (key: unknown): key is Collection => byCollection.has(key)
export const kindOf = (collection: Collection): Kind => byCollection.get(collection)!
/** What is said of a part of the plan, whether there is one of it or many. */
export const describedBy = (top: unknown): Kind | Single | undefined =>
  byCollection.get(top) ?? byTop.get(top)
