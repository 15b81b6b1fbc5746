import type { Segment } from './schema'

/** Whether somebody hands out leases in a segment, as far as is planned. */
export const handsOutLeases = (s: Pick<Segment, 'dhcp' | 'pools'>): boolean =>
  s.dhcp.mode === 'relay' || (s.dhcp.mode === 'server' && s.pools.length > 0)
