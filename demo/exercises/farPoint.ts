/** J-09: a long-range access point outdoors, with a network for each segment. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { allow, cable, inManagement, makers, segment, smallSite, type SmallSite } from './small'

const site: SmallSite = { name: 'Knot Marina', space: '10.69.0.0/16', octet: '69', number: 38_959 }
const network = (id: string, name: string, segmentId: string, clientIsolation: boolean) =>
  edit('addWirelessNetwork', {
    ...{ id, name, segmentId, clientIsolation },
    security: 'wpa2-wpa3',
    keyRef: `wifi-${id}`,
    accessPointIds: ['ap'],
  })

export const farPoint: Exercise = {
  id: 'far-point',
  job: 'J-09',
  name: site.name,
  task:
    'A long-range access point over the berths: the laptop on its subnet, its account changed, its name ' +
    "that is not the network's, the country before the channel, a tag for each network, an address that stays.",
  decides:
    'That each network lands in its own segment, and the laptop is back on an automatic address.',
  begin: () =>
    applyEdits(smallSite(site), [
      edit('addLocation', {
        id: 'mast',
        name: 'Mast over the berths',
        kind: 'outdoors',
        mains: false,
      }),
      segment('guests', 'Guests', 'guests', 90, 50),
      edit('allocateSegments', { segmentIds: ['guests'] }),
      makers(site).host('crew-phone', 'Phone of the crew', 'handset', 6, 'staff', {
        locationId: null,
      }),
      makers(site).host('guest-phone', 'Phone of a guest', 'handset', 7, 'guests', {
        locationId: null,
      }),
      allow('guests', 'internet', 'any', 'guests reach the internet and nothing else'),
    ]),
  decisions: [
    makers(site).device('ap', 'Berth AP', 'ap-outdoor-2x2', 5, {
      ...inManagement('reserved'),
      locationId: 'mast',
    }),
    cable('l-ap', 'switch.2', 'ap.eth0', 60),
    edit('setUntagged', { segmentId: 'management', portIds: ['ap.eth0'] }),
    edit('addTag', { segmentId: 'staff', portIds: ['switch.2', 'ap.eth0'] }),
    edit('addTag', {
      segmentId: 'guests',
      portIds: ['gateway.1', 'switch.1', 'switch.2', 'ap.eth0'],
    }),
    network('crew', 'Foredeck', 'staff', false),
    network('berths', 'Slack Water', 'guests', true),
    edit('changeDevice', { id: 'crew-phone', changes: { wirelessNetworkId: 'crew' } }),
    edit('changeDevice', { id: 'guest-phone', changes: { wirelessNetworkId: 'berths' } }),
  ],
  leaves: [],
  shows: [
    'Phone of the crew gets an address in Staff',
    'Phone of a guest gets an address in Guests',
    'Phone of a guest must not reach ping on Front desk in Staff',
  ],
}
