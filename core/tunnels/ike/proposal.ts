/** A proposal of IKEv2: the transforms of it, and whether they make a whole (RFC 7296 3.3). */
import { transforms, type Transform, type TransformKind } from './transforms'

/** The agreement itself (IKE), or what carries the traffic (ESP). */
export type ProposalOf = 'ike' | 'child'

export interface Proposal {
  readonly words: readonly string[]
  readonly problems: readonly string[]
  /** Words of what should or must not be used any more. */
  readonly weak: readonly string[]
}

const ofKind = (words: readonly string[], kind: TransformKind): string[] =>
  words.filter((w) => transforms[w]?.kind === kind)

export function readProposal(text: string, of: ProposalOf): Proposal {
  const words = text
    .toLowerCase()
    .split('-')
    .map((w) => w.trim())
  const known = words.filter((w) => Object.hasOwn(transforms, w))
  const encryption = ofKind(known, 'encryption').map((w): Transform => transforms[w]!)
  const combined = encryption.filter((t) => t.isCombined)
  const integrity = ofKind(known, 'integrity')
  const problems = words
    .filter((w) => !Object.hasOwn(transforms, w))
    .map((w) => `'${w}' is no algorithm that is known here`)
  if (encryption.length === 0) problems.push('it names nothing that encrypts')
  if (combined.length > 0 && combined.length < encryption.length)
    problems.push('what encrypts and checks in one stands in a proposal of its own (RFC 5282 8)')
  if (combined.length === 0 && encryption.length > 0 && integrity.length === 0)
    problems.push('nothing checks what is encrypted: an integrity algorithm is missing')
  if (of === 'ike' && combined.length > 0 && integrity.length > 0)
    problems.push('what encrypts and checks in one takes no integrity beside it (RFC 5282 8)')
  if (of === 'ike' && combined.length > 0 && ofKind(known, 'prf').length === 0)
    problems.push('where it encrypts and checks in one, a prf has to be named')
  if (of === 'ike' && ofKind(known, 'group').length === 0)
    problems.push('it names no group for the exchange of keys')
  return {
    words,
    problems,
    weak: known.filter((w) => ['should-not', 'must-not'].includes(transforms[w]!.standing)),
  }
}

/** Several, the most wanted first; separated by commas. */
export const readProposals = (text: string, of: ProposalOf): Proposal[] =>
  text.split(',').map((t) => readProposal(t.trim(), of))

const kinds: readonly TransformKind[] = ['encryption', 'integrity', 'prf', 'group']

/**
 * The first of one end that the other end takes: of each kind of transform both name one in common
 * (RFC 7296 2.7). Where a prf is not named, that of the integrity algorithm is meant.
 * @returns the words that both would use; null where they agree on none
 */
export function agreedOn(here: string, there: string, of: ProposalOf): string | null {
  const whole = (p: Proposal): string[] =>
    of === 'ike' && ofKind(p.words, 'prf').length === 0
      ? [...p.words, ...ofKind(p.words, 'integrity').map((w) => `prf${w}`)]
      : [...p.words]
  for (const mine of readProposals(here, of))
    for (const theirs of readProposals(there, of)) {
      const [a, b] = [whole(mine), whole(theirs)]
      const common = kinds.map((kind) => {
        const [mineOf, theirsOf] = [ofKind(a, kind), ofKind(b, kind)]
        if (mineOf.length === 0 && theirsOf.length === 0) return ''
        return mineOf.find((w) => theirsOf.includes(w)) ?? null
      })
      if (common.every((w) => w !== null)) return common.filter((w) => w !== '').join('-')
    }
  return null
}
