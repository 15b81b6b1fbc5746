/**
 * A shop in town, as it was found: its LAN has the numbers of the provider's own router. Everything
 * is invented.
 */
import {
  editCall as edit,
  applyEdits,
  createPlan,
  unknownHandOff,
  type SitePlan,
} from '@mast/core/plan'

export function petrelStreet(): SitePlan {
  return applyEdits(createPlan('Petrel Street Chandlery', ['192.168.0.0/16']), [
    edit('addLocation', { id: 'shop', name: 'Shop', kind: 'building', mains: true }),
    edit('addSegment', {
      id: 'shop-net',
      name: 'Shop',
      purpose: 'staff',
      vlanId: 1,
      expectedHosts: 12,
      growthPercent: 50,
      subnet: '192.168.1.0/24',
      gateway: '192.168.1.1',
      fixedBlock: { first: '192.168.1.2', last: '192.168.1.9' },
      pools: [{ first: '192.168.1.10', last: '192.168.1.254' }],
      leaseSeconds: 86_400,
    }),
    edit('addDevice', {
      id: 'gateway',
      name: 'Shop gateway',
      profileId: 'gateway-4-2',
      locationId: 'shop',
      serial: 'AM-GAT-51107',
      hardwareAddress: '02:50:53:00:00:10',
    }),
    edit('addDevice', {
      id: 'shop-ap',
      name: 'Shop AP',
      profileId: 'ap-indoor-2x2',
      locationId: 'shop',
      power: 'outlet',
      addressing: { mode: 'automatic', segmentId: 'shop-net', address: null, gateway: null },
    }),
    edit('addDevice', {
      id: 'till',
      name: 'Till',
      profileId: 'wired-host',
      locationId: 'shop',
      addressing: { mode: 'automatic', segmentId: 'shop-net', address: null, gateway: null },
    }),
    edit('setUntagged', {
      segmentId: 'shop-net',
      portIds: ['gateway.1', 'gateway.2', 'shop-ap.eth0'],
    }),
    edit('addLink', {
      id: 'l-ap',
      a: 'gateway.1',
      b: 'shop-ap.eth0',
      medium: 'copper',
      lengthM: 14,
    }),
    edit('addLink', { id: 'l-till', a: 'gateway.2', b: 'till.eth0', medium: 'copper', lengthM: 6 }),
    edit('addUplink', {
      id: 'cable',
      name: 'Town cable',
      portId: 'gateway.wan1',
      handOff: {
        ...unknownHandOff,
        mode: 'automatic',
        vlan: 'untagged',
        addressKind: 'private',
        providerLan: '192.168.1.0/24',
        downMbps: 100,
        upMbps: 20,
      },
    }),
    edit('addKnownNetwork', {
      id: 'net-harbour',
      name: 'Kittiwake Harbour',
      kind: 'joined',
      prefix: '10.20.0.0/16',
      note: 'by the tunnel',
    }),
    edit('stateIntent', {
      id: 'out',
      from: 'shop-net',
      to: 'internet',
      services: 'any',
      action: 'allow',
      reason: 'the shop works on the internet',
    }),
  ])
}
