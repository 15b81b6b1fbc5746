/** A new site made from another one: everything but what belongs to that place alone. */
import { createPlan, unknownHandOff, type SitePlan } from '../plan'

/**
 * All but name, addresses, serials, hardware addresses, coordinates, firmware found, licences held
 * and what the provider told. Subnets are left to be planned anew, so that a
 * tunnel between the two does not find the same numbers at both ends.
 */
export function presetFrom(
  plan: SitePlan,
  name: string,
  addressSpace: readonly string[],
): SitePlan {
  const copy = structuredClone(plan)
  const blank = createPlan(name, addressSpace)
  return {
    ...copy,
    site: { ...copy.site, name, addressSpace: blank.site.addressSpace, addressSpace6: [] },
    knownNetworks: {},
    locations: mapped(copy.locations, (l) => ({ ...l, latitude: null, longitude: null })),
    devices: mapped(copy.devices, (d) => ({
      ...d,
      serial: null,
      hardwareAddress: null,
      firmware: null,
      licencesHeld: [],
      stays: false,
      addressing: { ...d.addressing, address: null, gateway: null },
    })),
    segments: mapped(copy.segments, (s) => ({
      ...s,
      subnet: null,
      gateway: null,
      fixedBlock: null,
      pools: [],
      subnet6: null,
      locked: false,
      options: { nameServers: [], timeServers: [], routes: [] },
      dhcp: s.dhcp.mode === 'relay' ? { mode: 'server' as const, relayTo: null } : s.dhcp,
    })),
    uplinks: mapped(copy.uplinks, (u) => ({
      ...u,
      handOff: { ...unknownHandOff, mode: u.handOff.mode },
    })),
    wirelessNetworks: mapped(copy.wirelessNetworks, (w) => w),
  }
}

const mapped = <T>(map: Record<string, T>, change: (entity: T) => T): Record<string, T> =>
  Object.fromEntries(Object.entries(map).map(([id, e]) => [id, change(e)]))
