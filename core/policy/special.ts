/**
 * Space that is no internet: the special-purpose registries (RFC 6890) as far as they say "not
 * globally reachable". Documentation networks are left out: nobody
 * has them, and in examples, demonstrations and tests they stand for the internet.
 */
import { collapse, registry, type Prefix } from '../addressing'

export const specialPurpose: readonly Prefix[] = collapse(
  registry.filter((e) => !e.global && e.kind !== 'documentation').map((e) => e.prefix),
)
