/**
 * A small harbour for tests: four segments, with honest mistakes left in. Everything is invented;
 * public addresses are documentation ones.
 */
import {
  editCall as edit,
  applyEdits,
  createPlan,
  unknownHandOff,
  type EditCall,
  type SegmentPurpose,
  type SitePlan,
} from '@mast/core/plan'

const segment = (
  id: string,
  name: string,
  purpose: SegmentPurpose,
  vlanId: number,
  expectedHosts: number,
  growthPercent: number,
): EditCall => edit('addSegment', { id, name, purpose, vlanId, expectedHosts, growthPercent })
const device = (
  id: string,
  name: string,
  profileId: string,
  n: number,
  more: object = {},
): EditCall =>
  edit('addDevice', {
    id,
    name,
    profileId,
    serial: `AM-${profileId.split('-')[0]!.slice(0, 3).toUpperCase()}-${String(48_200 + n * 37)}`,
    hardwareAddress: `02:4b:48:00:00:${(n * 16).toString(16).padStart(2, '0')}`,
    ...more,
  })
const host = (
  id: string,
  name: string,
  profileId: string,
  n: number,
  segmentId: string,
  more: object = {},
): EditCall =>
  edit('addDevice', {
    id,
    name,
    profileId,
    hardwareAddress: `02:4b:48:01:00:${n.toString(16).padStart(2, '0')}`,
    addressing: { mode: 'automatic', segmentId, address: null, gateway: null },
    ...more,
  })
const link = (id: string, a: string, b: string, lengthM: number): EditCall =>
  edit('addLink', { id, a, b, medium: 'copper', lengthM })
const allow = (from: string, to: string, services: 'any' | string[], reason: string): EditCall =>
  edit('stateIntent', { id: `int-${from}-${to}`, from, to, services, action: 'allow', reason })
const inManagement = (mode: 'reserved' | 'fixed'): object => ({
  addressing: { mode, segmentId: 'management', address: null, gateway: null },
})

export function quayside(): SitePlan {
  return applyEdits(createPlan('Kittiwake Harbour', ['10.20.0.0/16']), [
    edit('addLocation', { id: 'cupboard', name: 'Office cupboard', kind: 'cupboard', mains: true }),
    edit('addLocation', { id: 'office', name: 'Harbour Office', kind: 'building', mains: true }),
    edit('addLocation', { id: 'quay', name: 'Quay wall', kind: 'outdoors', mains: false }),
    edit('addLocation', { id: 'kiosk', name: 'Fuel Berth kiosk', kind: 'kiosk', mains: true }),
    segment('management', 'Management', 'management', 10, 20, 50),
    segment('office-net', 'Office', 'staff', 20, 40, 50),
    segment('cameras', 'Cameras', 'cameras', 40, 12, 100),
    segment('visitors', 'Visitors', 'guests', 90, 240, 60),

    device('gateway', 'Harbour gateway', 'gateway-4-2', 1, { locationId: 'cupboard' }),
    device('switch', 'Cupboard switch', 'switch-8-poe-65', 2, {
      locationId: 'cupboard',
      ...inManagement('reserved'),
    }),
    device('quay-ap', 'Quay AP', 'ap-outdoor-2x2', 3, {
      locationId: 'quay',
      ...inManagement('reserved'),
    }),
    edit('addDevice', {
      id: 'kiosk-switch',
      name: 'Kiosk switch',
      profileId: 'switch-5-plain',
      locationId: 'kiosk',
    }),
    edit('addDevice', {
      id: 'controller',
      name: 'Controller',
      profileId: 'controller-host',
      locationId: 'cupboard',
      hardwareAddress: '02:4b:48:01:00:01',
      ...inManagement('fixed'),
    }),
    host('harbour-desk', 'Harbour office desk', 'wired-host', 2, 'office-net', {
      locationId: 'office',
    }),
    host('printer', 'Office printer', 'wired-host', 3, 'office-net', {
      locationId: 'office',
      serviceIds: ['svc-print'],
      addressing: { mode: 'fixed', segmentId: 'office-net', address: null, gateway: null },
    }),
    host('quay-camera', 'Quay camera', 'camera-poe', 4, 'cameras', {
      locationId: 'quay',
      power: 'poe',
      serviceIds: ['svc-video'],
    }),
    host('basin-camera', 'Basin camera', 'camera-poe', 5, 'cameras', {
      locationId: 'quay',
      power: 'poe',
      serviceIds: ['svc-video'],
    }),
    host('gate-camera', 'Gate camera', 'camera-poe', 6, 'cameras', {
      locationId: 'office',
      power: 'poe',
      serviceIds: ['svc-video'],
    }),
    host('fuel-till', 'Fuel berth till', 'wired-host', 7, 'office-net', { locationId: 'kiosk' }),
    host('visitor-phone', 'Visitor phone', 'handset', 8, 'visitors'),

    edit('allocateSegments', { segmentIds: ['management', 'office-net', 'cameras', 'visitors'] }),
    edit('addUplink', {
      id: 'fibre',
      name: 'Harbour fibre',
      portId: 'gateway.wan1',
      handOff: {
        ...unknownHandOff,
        mode: 'automatic',
        vlan: 35,
        priority: 1,
        mtu: 1500,
        addressKind: 'public',
        providerLan: '192.168.1.0/24',
        pinnedHardwareAddress: 'none',
        forcedSpeedMbps: 'negotiated',
        downMbps: 500,
        upMbps: 100,
      },
    }),
    edit('setController', { hostDeviceId: 'controller' }),
    link('l-trunk', 'gateway.1', 'switch.1', 1),
    link('l-ap', 'switch.2', 'quay-ap.eth0', 46),
    link('l-controller', 'switch.3', 'controller.eth0', 2),
    link('l-desk', 'switch.4', 'harbour-desk.eth0', 22),
    link('l-gate', 'switch.5', 'gate-camera.eth0', 31),
    link('l-quay', 'switch.6', 'quay-camera.eth0', 52),
    link('l-basin', 'switch.7', 'basin-camera.eth0', 68),
    link('l-printer', 'switch.8', 'printer.eth0', 18),
    link('l-kiosk', 'gateway.2', 'kiosk-switch.1', 88),
    link('l-till', 'kiosk-switch.2', 'fuel-till.eth0', 3),

    edit('setUntagged', {
      segmentId: 'management',
      portIds: [
        'gateway.1',
        'gateway.2',
        'gateway.3',
        'switch.1',
        'switch.2',
        'switch.3',
        'quay-ap.eth0',
      ],
    }),
    edit('setUntagged', { segmentId: 'office-net', portIds: ['switch.4', 'switch.8'] }),
    edit('setUntagged', { segmentId: 'cameras', portIds: ['switch.5', 'switch.6', 'switch.7'] }),
    edit('addTag', { segmentId: 'office-net', portIds: ['gateway.1', 'switch.1'] }),
    edit('addTag', { segmentId: 'cameras', portIds: ['gateway.1', 'switch.1'] }),
    // The trunk to the quay forgets the visitors at the switch.
    edit('addTag', { segmentId: 'visitors', portIds: ['gateway.1', 'switch.1', 'quay-ap.eth0'] }),
    edit('addWirelessNetwork', {
      id: 'visitor-wifi',
      name: 'Berth and Breakfast',
      segmentId: 'visitors',
      security: 'wpa2-wpa3',
      keyRef: 'wifi-visitor-wifi',
      clientIsolation: true,
      accessPointIds: ['quay-ap'],
    }),
    edit('changeDevice', { id: 'visitor-phone', changes: { wirelessNetworkId: 'visitor-wifi' } }),

    allow('management', 'internet', 'any', 'devices fetch time, names and firmware'),
    allow('management', 'cameras', 'any', 'cameras are set up from management'),
    allow('office-net', 'internet', 'any', 'the office works on the internet'),
    allow('office-net', 'cameras', ['svc-video', 'svc-ping'], 'the office watches the quay'),
    allow('visitors', 'internet', 'any', 'visitors reach the internet and nothing else'),
    // Left over from an afternoon of trying to print from a phone.
    allow('visitors', 'office-net', 'any', 'so that a visitor could print a berth form'),
    // The pool starts where the printer has its fixed address.
    edit('setPool', { segmentId: 'office-net', first: '10.20.20.2', last: '10.20.20.254' }),
  ])
}
