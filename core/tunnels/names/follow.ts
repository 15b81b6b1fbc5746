/** How long it takes until a name that follows an address is seen where it leads now. */

/** Devices look at their address about so often (common practice), s. */
const LOOKS_S = 30

export interface Follows {
  /** The server has it, s: at once, or after the next look. */
  readonly told: { readonly best: number; readonly worst: number }
  /** Who asked just before keeps the old answer as long as it may (RFC 1035 3.2.1), s. */
  readonly worst: number
}

/** @param ttlSeconds how long an answer may be kept */
export const followSeconds = ({ ttlSeconds }: { readonly ttlSeconds: number }): Follows => ({
  told: { best: 0, worst: LOOKS_S },
  worst: LOOKS_S + ttlSeconds,
})
