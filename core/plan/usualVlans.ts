/** Which VLAN a new segment is offered. */
import type { Segment } from './kinds/segment'

/** Tens by purpose, as many number them (common practice). */
const USUAL: Readonly<Record<Segment['purpose'], number>> = {
  management: 10,
  staff: 20,
  payments: 30,
  cameras: 40,
  voice: 50,
  instruments: 60,
  servers: 70,
  guests: 90,
}
const LAST_VLAN = 4094

/** The usual one of a purpose, else the next ten after it, else any; null where all are taken. */
export function firstFreeVlan(
  purpose: Segment['purpose'],
  taken: ReadonlySet<number>,
): number | null {
  for (let id = USUAL[purpose]; id <= LAST_VLAN; id += 10) if (!taken.has(id)) return id
  for (let id = 2; id <= LAST_VLAN; id++) if (!taken.has(id)) return id
  return null
}
