/**
 * What a patch touches, in pieces that two people can change apart. Fields that only make sense
 * together (a subnet with its gateway
 * and pool, the tags of a port) are one thing; adding or removing an entity touches all of it.
 */
import type { PlanPatch } from './edit'
import { own } from './inherited'

export interface Thing {
  /** A collection of the plan, `site` or `controller`. */
  readonly top: string
  /** Of the entity; empty for `site` and `controller`. */
  readonly id: string
  /** A field or a group of fields; `*` is the whole entity. */
  readonly part: string
}

const together: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  segments: {
    subnet: 'addresses',
    gateway: 'addresses',
    fixedBlock: 'addresses',
    pools: 'addresses',
  },
  ports: { untaggedSegmentId: 'VLANs', taggedSegmentIds: 'VLANs' },
  links: { a: 'ends', b: 'ends' },
  devices: { addressing: 'address' },
}
/**
 * Entities that are one statement: half of it from one person and half from another says what
 * nobody meant.
 */
const whole = new Set(['intents', 'forwards', 'profiles'])

export function thingOf(path: readonly (string | number)[]): Thing {
  const [top, second, third, fourth] = path.map(String)
  if (top === 'site' || top === 'controller')
    return {
      top,
      id: '',
      part: second === 'preferences' && third ? `preferences.${third}` : (second ?? '*'),
    }
  if (third === undefined || whole.has(top!)) return { top: top!, id: second!, part: '*' }
  if (top === 'segments' && third === 'options' && fourth)
    return { top, id: second!, part: `options.${fourth}` }
  if (top === 'uplinks' && third === 'handOff' && fourth)
    return { top, id: second!, part: `handOff.${fourth}` }
  return { top: top!, id: second!, part: own(own(together, top!) ?? {}, third) ?? third }
}

const sameThing = (a: Thing, b: Thing): boolean =>
  a.top === b.top &&
  a.id === b.id &&
  (a.part === b.part ||
    a.part === '*' ||
    b.part === '*' ||
    a.part.startsWith(`${b.part}.`) ||
    b.part.startsWith(`${a.part}.`))

export const thingKey = (t: Thing): string => `${t.top}/${t.id}/${t.part}`

export function thingsOf(patches: readonly PlanPatch[]): Thing[] {
  const all = new Map<string, Thing>()
  for (const p of patches) {
    const thing = thingOf(p.path)
    all.set(thingKey(thing), thing)
  }
  return [...all.values()]
}

/** The things of the first list that the second touches too. */
export function shared(mine: readonly Thing[], theirs: readonly Thing[]): Thing[] {
  const byEntity = new Map<string, Thing[]>()
  for (const t of theirs) {
    const key = `${t.top}/${t.id}`
    const list = byEntity.get(key)
    if (list) list.push(t)
    else byEntity.set(key, [t])
  }
  return mine.filter((m) => byEntity.get(`${m.top}/${m.id}`)?.some((t) => sameThing(m, t)))
}
