/**
 * Both ends of an IKEv2 tunnel next to each other: every value that has to match, since what does not
 * is what breaks it, and those that need not (RFC 7296 2.7 to 2.9, 2.8 for lifetimes).
 */
import { overlaps, parsePrefix, type Prefix } from '../../addressing'
import type { Tunnel } from '../../plan'
import { agreedOn } from './proposal'

export type IkeEnd = NonNullable<Tunnel['ike']>
export interface IkeRow {
  readonly field: keyof IkeEnd
  readonly what: string
  readonly here: string
  readonly there: string
  readonly isFit: boolean
  /** What comes of both, or what goes wrong. */
  readonly means: string
}

const list = (texts: readonly string[]): string => texts.join(', ') || 'none'
const sameSet = (a: readonly string[], b: readonly string[]): boolean =>
  a.length === b.length && [...a].sort().join() === [...b].sort().join()

function proposals(field: 'proposal' | 'childProposal', here: IkeEnd, there: IkeEnd): IkeRow {
  const of = field === 'proposal' ? 'ike' : 'child'
  const agreed = agreedOn(here[field], there[field], of)
  return {
    field,
    what: field === 'proposal' ? 'Proposal' : 'Proposal of the traffic',
    here: here[field],
    there: there[field],
    isFit: agreed !== null,
    means:
      agreed !== null
        ? `both take ${agreed}`
        : of === 'ike'
          ? 'no proposal chosen: nothing comes up'
          : 'the ends agree, and nothing passes: no proposal chosen for the traffic',
  }
}

/** Each says of itself what the other expects of it. */
function identity(field: 'localId' | 'remoteId', here: IkeEnd, there: IkeEnd): IkeRow {
  const other = field === 'localId' ? 'remoteId' : 'localId'
  const isFit = here[field] === there[other]
  return {
    field,
    what: field === 'localId' ? 'Identity of this end' : 'Identity of the other end',
    here: here[field] || 'none',
    there: there[other] || 'none',
    isFit,
    means: isFit ? 'known to both' : 'authentication fails: nobody is known by that identity',
  }
}

/** What one end sends the other has to take; where they overlap only, the traffic is narrowed. */
function selectors(
  field: 'localSelectors' | 'remoteSelectors',
  here: IkeEnd,
  there: IkeEnd,
): IkeRow {
  const other = field === 'localSelectors' ? 'remoteSelectors' : 'localSelectors'
  const [a, b] = [here[field], there[other]]
  const isFit = sameSet(a, b)
  const prefixes = (texts: readonly string[]): Prefix[] =>
    texts.flatMap((t) => parsePrefix(t) ?? [])
  const meets = prefixes(a).some((p) => prefixes(b).some((q) => overlaps(p, q)))
  return {
    field,
    what: field === 'localSelectors' ? 'Networks here' : 'Networks there',
    here: list(a),
    there: list(b),
    isFit,
    means: isFit
      ? 'the same at both'
      : meets
        ? 'narrowed to what both name: the rest does not pass (RFC 7296 2.9)'
        : 'no traffic selectors in common: nothing passes',
  }
}

/** Each end keeps its own; the shorter makes the keys anew. */
function lifetime(
  field: 'lifetimeSeconds' | 'childLifetimeSeconds',
  here: IkeEnd,
  there: IkeEnd,
): IkeRow {
  const least = Math.min(here[field], there[field])
  return {
    field,
    what: field === 'lifetimeSeconds' ? 'Lifetime' : 'Lifetime of the traffic',
    here: `${here[field]} s`,
    there: `${there[field]} s`,
    isFit: true,
    means: `keys are made anew after ${least} s; lifetimes are not negotiated (RFC 7296 2.8)`,
  }
}

export const compareIke = (here: IkeEnd, there: IkeEnd): IkeRow[] => [
  proposals('proposal', here, there),
  proposals('childProposal', here, there),
  identity('localId', here, there),
  identity('remoteId', here, there),
  selectors('localSelectors', here, there),
  selectors('remoteSelectors', here, there),
  lifetime('lifetimeSeconds', here, there),
  lifetime('childLifetimeSeconds', here, there),
]

/** What the other end has to be set to, so that all of it fits this one. */
export const mirrored = (here: IkeEnd): IkeEnd => ({
  ...here,
  localId: here.remoteId,
  remoteId: here.localId,
  localSelectors: [...here.remoteSelectors],
  remoteSelectors: [...here.localSelectors],
})
