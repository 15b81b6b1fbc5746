/** Networks that a peer is allowed, and which of them holds an address by the longest prefix. */
import { sameNetwork, toNumber } from '../frames/frame'

export interface Span {
  readonly network: number
  readonly length: number
}
/** IPv4 alone; nothing else is carried here. */
export const spansIn = (texts: readonly string[]): Span[] =>
  texts
    .filter((t) => !t.includes(':'))
    .map((t) => {
      const [address, length = '32'] = t.trim().split('/') as [string, string?]
      return { network: toNumber(address), length: Number(length) }
    })
/** Length of the longest that holds it; -1 of none. */
export const longestOf = (spans: readonly Span[], address: number): number =>
  Math.max(
    -1,
    ...spans.filter((s) => sameNetwork(address, s.network, s.length)).map((s) => s.length),
  )
