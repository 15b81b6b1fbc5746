/** J-13: an access point outdoors that is set up through a radio of its own. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { cable, inManagement, makers, smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Dunnock Campsite',
  space: '10.73.0.0/16',
  octet: '73',
  number: 64_055,
}

export const outdoorPoint: Exercise = {
  id: 'outdoor-point',
  job: 'J-13',
  name: site.name,
  task:
    'An access point on a pole, set up over the network that it opens when it is new: the router stays ' +
    'off until it is set, then join again, then the router, then the internet.',
  decides:
    'That everything is fetched before the radio cuts the internet off, and the laptop is back afterwards.',
  begin: () =>
    applyEdits(smallSite(site), [
      edit('addLocation', { id: 'pole', name: 'Pole at the gate', kind: 'outdoors', mains: false }),
      makers(site).device('ap', 'Gate AP', 'ap-outdoor-2x2', 5, {
        ...inManagement('reserved'),
        locationId: 'pole',
      }),
      makers(site).host('phone', 'Phone', 'handset', 6, 'staff', { locationId: null }),
      cable('l-ap', 'switch.2', 'ap.eth0', 40),
      edit('setUntagged', { segmentId: 'management', portIds: ['ap.eth0'] }),
      edit('addTag', { segmentId: 'staff', portIds: ['switch.2', 'ap.eth0'] }),
      edit('addWirelessNetwork', {
        id: 'camp',
        name: 'Guy Rope',
        segmentId: 'staff',
        security: 'wpa2-wpa3',
        keyRef: 'wifi-camp',
        clientIsolation: false,
        accessPointIds: ['ap'],
      }),
      edit('changeDevice', { id: 'phone', changes: { wirelessNetworkId: 'camp' } }),
    ]),
  decisions: [
    edit('changeDevice', { id: 'ap', changes: { setUpBy: 'set-up-radio', school: 'mixed' } }),
  ],
  leaves: [],
  shows: ['Gate AP is in service', 'Phone reaches the web on the internet'],
}
