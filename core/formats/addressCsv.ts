/** The address plan as CSV: a line a segment. */
import type { SitePlan } from '../plan'
import { writeCsv } from './equipmentCsv'

export const addressColumns = ['vlan', 'segment', 'purpose', 'subnet', 'gateway', 'fixed from', 'fixed to', 'pool from', 'pool to', 'lease s'] as const

export function writeAddressCsv(plan: SitePlan): string {
  const segments = Object.values(plan.segments).sort((a, b) => a.vlanId - b.vlanId)
  return writeCsv(addressColumns, segments.map((s) => [
    s.vlanId, s.name, s.purpose, s.subnet, s.gateway, s.fixedBlock?.first ?? null, s.fixedBlock?.last ?? null, s.pool?.first ?? null, s.pool?.last ?? null, s.leaseSeconds,
  ]))
}
