/** What a test of the proof is. */
import type { Probe } from '@mast/protocol'
import type { Place, WeekSpan } from '../plan'

export interface ProofTest {
  readonly id: string
  readonly title: string
  /**
   * `service` asks the controller whether a device is in service; `nobody` says that there is
   * nobody to be asked; the others are probes from a host.
   */
  readonly kind: 'service' | 'nobody' | Probe['kind']
  /** A device id, `internet`, or `gateway` where it asks itself. */
  readonly from: string
  /** Where the asking host belongs; the row of the grid. */
  readonly fromPlace: Place | 'gateway'
  /** The column of the grid. */
  readonly toPlace: Place | 'gateway' | 'controller'
  readonly expected: 'works' | 'blocked'
  /**
   * When it works, by the clocks of the site, where that is neither always nor never; it is blocked
   * at all other times.
   */
  readonly hours: { readonly spans: readonly WeekSpan[]; readonly timeZone: string } | null
  /** For a lease: the subnet, the address where one is reserved, and who alone should offer one. */
  readonly subnet: string | null
  readonly address: string | null
  readonly server: string | null
  /** The decision that it tests, in words. */
  readonly because: string
  /**
   * Of what must not work: the test that shows the target to answer. Null where nothing can show
   * it.
   */
  readonly controlId: string | null
  readonly probe: Probe | null
}
