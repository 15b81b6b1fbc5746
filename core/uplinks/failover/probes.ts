/** What the tests of a line send and get. */
import type { LineWatch } from '../../plan'

/**
 * Octets of one test there and back over IPv4, without the link's own: a ping of 56 octets (RFC
 * 792), a TCP connection opened and closed (RFC 9293), a name asked for (RFC 1035), a page of a few
 * hundred octets. Of the last two from memory; longer names and pages make them more.
 */
const OCTETS: Readonly<Record<LineWatch['tests'][number]['kind'], number>> = {
  ping: 2 * (20 + 8 + 56),
  tcp: 3 * 60 + 4 * 52,
  dns: 2 * (20 + 8 + 12) + 2 * 20 + 16,
  http: 3 * 60 + 6 * 52 + 200 + 500,
}
const MONTH_SECONDS = (365.25 / 12) * 86_400

/** GB (10^9 octets) a month. */
export const probeGbAMonth = (watch: LineWatch): number =>
  (watch.tests.reduce((sum, t) => sum + OCTETS[t.kind], 0) * MONTH_SECONDS) /
  watch.intervalSeconds /
  1e9
