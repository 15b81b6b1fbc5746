/** What comes of both ends of an IKEv2 tunnel as they are set. */
import { containsPrefix, formatPrefix, parsePrefix, type Prefix } from '../../addressing'
import type { Peer, Tunnel } from '../../plan'
import { compareIke, mirrored } from './compare'

export type IkeOutcome =
  | {
      readonly isUp: true
      /** Networks whose traffic is carried, as both ends name them. */
      readonly here: readonly string[]
      readonly there: readonly string[]
    }
  | { readonly isUp: false; readonly why: string }

/** What both lists hold, each as the longer prefix of two that meet (RFC 7296 2.9). */
function narrowed(a: readonly string[], b: readonly string[]): string[] {
  const prefixes = (texts: readonly string[]): Prefix[] =>
    texts.flatMap((t) => parsePrefix(t) ?? [])
  const [left, right] = [prefixes(a), prefixes(b)]
  const met = left.flatMap((p) =>
    right.flatMap((q) => (containsPrefix(p, q) ? [q] : containsPrefix(q, p) ? [p] : [])),
  )
  return [...new Set(met.map(formatPrefix))]
}

/** An end of which nothing was said is taken to be set as it has to be. */
export function ikeOutcome(t: Pick<Tunnel, 'ike' | 'foreignIke' | 'name'>, peer: Peer): IkeOutcome {
  const { ike } = t
  if (!ike) return { isUp: false, why: `nothing is said yet of what ${t.name} proposes` }
  if (!peer.sharedKeyRef) return { isUp: false, why: `${t.name} and ${peer.name} share no key yet` }
  const there = t.foreignIke ?? mirrored(ike)
  const carried = {
    here: narrowed(ike.localSelectors, there.remoteSelectors),
    there: narrowed(ike.remoteSelectors, there.localSelectors),
  }
  const apart = compareIke(ike, there).find(
    (r) =>
      !r.isFit &&
      (r.field === 'localSelectors'
        ? carried.here.length === 0
        : r.field === 'remoteSelectors'
          ? carried.there.length === 0
          : true),
  )
  if (apart) return { isUp: false, why: `${apart.what.toLowerCase()}: ${apart.means}` }
  return carried.here.length === 0 || carried.there.length === 0
    ? { isUp: false, why: 'no networks are named at either end' }
    : { isUp: true, ...carried }
}
