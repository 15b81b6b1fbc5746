/** J-04: gateway, controller and a switch with power in one box, behind the router of the house. */
import { applyEdits, createPlan, editCall as edit, type SitePlan } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { allow, cable, inManagement, makers, plainHandOff, segment, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Whimbrel House',
  space: '10.64.0.0/16',
  octet: '64',
  number: 20_137,
}
const { device, host } = makers(site)
const radios = ['ap-1', 'ap-2']

function house(): SitePlan {
  return applyEdits(createPlan(site.name, [site.space]), [
    edit('addLocation', { id: 'room', name: 'Linen room', kind: 'cupboard', mains: true }),
    segment('management', 'Management', 'management', 10, 10),
    segment('staff', 'House', 'staff', 20, 12),
    segment('guests', 'Guests', 'guests', 90, 60),
    device('gateway', 'Gateway', 'gateway-all-in-one-8', 1),
    device('ap-1', 'Hall access point', 'ap-indoor-2x2', 2, inManagement('reserved')),
    device('ap-2', 'Stairs access point', 'ap-indoor-2x2', 3, inManagement('reserved')),
    host('desk', 'Reception', 'wired-host', 4, 'staff'),
    host('guest-phone', 'Phone of a guest', 'handset', 5, 'guests', { locationId: null }),
    edit('allocateSegments', { segmentIds: ['management', 'staff', 'guests'] }),
    edit('addUplink', {
      id: 'line',
      name: 'Router of the house',
      portId: 'gateway.wan1',
      handOff: {
        ...plainHandOff,
        nameServers: [],
        addressKind: 'private',
        providerLan: '192.168.178.0/24',
      },
    }),
    ...radios.map((id, i) => cable(`l-${id}`, `gateway.${i + 2}`, `${id}.eth0`, 20)),
    cable('l-desk', 'gateway.4', 'desk.eth0', 5),
    edit('setUntagged', {
      segmentId: 'management',
      portIds: ['gateway.2', 'gateway.3', 'ap-1.eth0', 'ap-2.eth0'],
    }),
    edit('setUntagged', { segmentId: 'staff', portIds: ['gateway.4'] }),
    edit('addTag', {
      segmentId: 'guests',
      portIds: ['gateway.2', 'gateway.3', 'ap-1.eth0', 'ap-2.eth0'],
    }),
    edit('addWirelessNetwork', {
      id: 'guest-wifi',
      name: 'Good Night',
      segmentId: 'guests',
      security: 'wpa2-wpa3',
      keyRef: 'wifi-guest-wifi',
      // Somebody wanted to throw pictures onto the screen in the hall.
      clientIsolation: false,
      accessPointIds: radios,
    }),
    edit('changeDevice', { id: 'guest-phone', changes: { wirelessNetworkId: 'guest-wifi' } }),
    edit('changeSite', { wireless: { channels: 'nightly' } }),
    edit('setController', { runs: 'when-needed' }),
    allow('management', 'internet', 'any', 'devices fetch time, names and firmware'),
    allow('staff', 'internet', 'any', 'the house works on the internet'),
    allow('guests', 'internet', 'any', 'guests reach the internet and nothing else'),
  ])
}

export const allInOne: Exercise = {
  id: 'all-in-one',
  job: 'J-04',
  name: site.name,
  task:
    'One box is gateway, controller and switch with power. Count its watts, its sockets and the access ' +
    'points that it takes; guests are kept apart from each other and from the house; channels are ' +
    'planned anew at night.',
  decides:
    'That the controller inside the gateway can be called from where devices wake up, that it is ' +
    'there at night, and that the house behind another router has another subnet than that.',
  begin: house,
  decisions: [edit('setController', { hostDeviceId: 'gateway' })],
  leaves: [],
  shows: [
    'Gateway is in service',
    'Hall access point is in service',
    'Phone of a guest reaches the web on the internet',
    'Phone of a guest must not reach ping on Reception in House',
  ],
}
