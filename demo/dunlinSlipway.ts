/** The training site: small, finished, made to be broken in known ways. Everything is invented. */
import {
  editCall as edit,
  applyEdits,
  createPlan,
  unknownHandOff,
  type EditCall,
  type SegmentPurpose,
  type SitePlan,
} from '@mast/core/plan'

const automatic = (segmentId: string): object => ({
  addressing: { mode: 'automatic', segmentId, address: null, gateway: null },
})
const inManagement = (mode: 'reserved' | 'fixed'): object => ({
  addressing: { mode, segmentId: 'management', address: null, gateway: null },
})

export function dunlinSlipway(): SitePlan {
  const segment = (
    id: string,
    name: string,
    purpose: SegmentPurpose,
    vlanId: number,
    expectedHosts: number,
  ): EditCall =>
    edit('addSegment', {
      id,
      name,
      purpose,
      vlanId,
      expectedHosts,
      growthPercent: 50,
      leaseSeconds: 28_800,
    })
  const link = (id: string, a: string, b: string, lengthM: number): EditCall =>
    edit('addLink', { id, a, b, medium: 'copper', lengthM })
  return applyEdits(createPlan('Dunlin Slipway', ['10.44.0.0/16']), [
    edit('addLocation', { id: 'hut', name: 'Slipway hut', kind: 'building', mains: true }),
    segment('management', 'Management', 'management', 10, 10),
    segment('crew', 'Crew', 'staff', 20, 20),
    segment('visitors', 'Visitors', 'guests', 90, 60),
    edit('addDevice', {
      id: 'gateway',
      name: 'Slipway gateway',
      profileId: 'gateway-4-2',
      locationId: 'hut',
      serial: 'AM-GAT-60311',
      hardwareAddress: '02:44:53:00:00:10',
    }),
    edit('addDevice', {
      id: 'switch',
      name: 'Hut switch',
      profileId: 'switch-8-poe-65',
      locationId: 'hut',
      serial: 'AM-SWI-60348',
      hardwareAddress: '02:44:53:00:00:20',
      ...inManagement('reserved'),
    }),
    edit('addDevice', {
      id: 'hut-ap',
      name: 'Hut AP',
      profileId: 'ap-indoor-2x2',
      locationId: 'hut',
      serial: 'AM-AP-60385',
      hardwareAddress: '02:44:53:00:00:30',
      ...inManagement('reserved'),
    }),
    edit('addDevice', {
      id: 'controller',
      name: 'Controller',
      profileId: 'controller-host',
      locationId: 'hut',
      hardwareAddress: '02:44:53:01:00:01',
      ...inManagement('fixed'),
    }),
    edit('addDevice', {
      id: 'crew-desk',
      name: 'Crew desk',
      profileId: 'wired-host',
      locationId: 'hut',
      hardwareAddress: '02:44:53:01:00:02',
      serviceIds: ['svc-web'],
      ...automatic('crew'),
    }),
    edit('addDevice', {
      id: 'tide-board',
      name: 'Tide board',
      profileId: 'wired-host',
      locationId: 'hut',
      hardwareAddress: '02:44:53:01:00:03',
      ...automatic('visitors'),
    }),
    edit('addDevice', {
      id: 'visitor-phone',
      name: 'Visitor phone',
      profileId: 'handset',
      hardwareAddress: '02:44:53:01:00:04',
      ...automatic('visitors'),
    }),
    edit('allocateSegments', { segmentIds: ['management', 'crew', 'visitors'] }),
    edit('addUplink', {
      id: 'line',
      name: 'Slipway line',
      portId: 'gateway.wan1',
      handOff: {
        ...unknownHandOff,
        mode: 'automatic',
        vlan: 12,
        priority: 0,
        mtu: 1500,
        addressKind: 'carrier-grade',
        providerLan: 'none',
        pinnedHardwareAddress: 'none',
        forcedSpeedMbps: 'negotiated',
        downMbps: 60,
        upMbps: 15,
      },
    }),
    edit('setController', { hostDeviceId: 'controller' }),
    link('l-trunk', 'gateway.1', 'switch.1', 2),
    link('l-ap', 'switch.2', 'hut-ap.eth0', 9),
    link('l-controller', 'switch.3', 'controller.eth0', 2),
    link('l-desk', 'switch.4', 'crew-desk.eth0', 5),
    link('l-board', 'switch.5', 'tide-board.eth0', 24),
    edit('setUntagged', {
      segmentId: 'management',
      portIds: ['gateway.1', 'gateway.2', 'switch.1', 'switch.2', 'switch.3', 'hut-ap.eth0'],
    }),
    edit('setUntagged', { segmentId: 'crew', portIds: ['switch.4'] }),
    edit('setUntagged', { segmentId: 'visitors', portIds: ['switch.5'] }),
    edit('addTag', { segmentId: 'crew', portIds: ['gateway.1', 'switch.1'] }),
    edit('addTag', {
      segmentId: 'visitors',
      portIds: ['gateway.1', 'switch.1', 'switch.2', 'hut-ap.eth0'],
    }),
    edit('addWirelessNetwork', {
      id: 'slip-wifi',
      name: 'Slack Water',
      segmentId: 'visitors',
      security: 'wpa2-wpa3',
      keyRef: 'wifi-slip-wifi',
      clientIsolation: true,
      accessPointIds: ['hut-ap'],
    }),
    edit('changeDevice', { id: 'visitor-phone', changes: { wirelessNetworkId: 'slip-wifi' } }),
    edit('stateIntent', {
      id: 'm-out',
      from: 'management',
      to: 'internet',
      services: 'any',
      action: 'allow',
      reason: 'devices fetch time, names and firmware',
    }),
    edit('stateIntent', {
      id: 'c-out',
      from: 'crew',
      to: 'internet',
      services: 'any',
      action: 'allow',
      reason: 'the crew works on the internet',
    }),
    edit('stateIntent', {
      id: 'v-out',
      from: 'visitors',
      to: 'internet',
      services: 'any',
      action: 'allow',
      reason: 'visitors reach the internet and nothing else',
    }),
  ])
}

/** A second line, so that a failover can be drilled. */
export const slipwayStandby: readonly EditCall[] = [
  edit('changeSite', {
    failover: { back: { kind: 'at-once' }, switchSeconds: 1, toleratedSeconds: 60 },
  }),
  edit('addUplink', {
    id: 'spare',
    name: 'Spare line',
    rank: 1,
    portId: 'gateway.wan2',
    handOff: {
      ...unknownHandOff,
      mode: 'fixed',
      vlan: 'untagged',
      addressKind: 'public',
      address: '203.0.113.130/29',
      gateway: '203.0.113.129',
      nameServers: ['198.51.100.53'],
      providerLan: 'none',
      pinnedHardwareAddress: 'none',
      forcedSpeedMbps: 'negotiated',
      ipv6: 'none',
      priority: 0,
      downMbps: 20,
      upMbps: 5,
      cap: 'none',
      mtu: 1500,
    },
    failing: { timesAYear: 3, hours: 6 },
  }),
  edit('changeDevice', { id: 'gateway', changes: { licencesHeld: ['second-line'] } }),
  edit('changeUplink', {
    id: 'line',
    changes: {
      startSeconds: 20,
      watch: {
        tests: [
          { kind: 'ping', target: '198.51.100.53', port: null },
          { kind: 'tcp', target: '192.0.2.200', port: 443 },
        ],
        need: 'any',
        intervalSeconds: 5,
        answerSeconds: 2,
        failures: 4,
        successes: 3,
        linkLoss: 'at-once',
      },
      failing: { timesAYear: 4, hours: 3 },
      loss: { percent: 0.1, bursts: null },
    },
  }),
]
