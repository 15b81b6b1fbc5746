/** J-06: access points into a controller that runs on a laptop. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { accessPoint, allow, makers, segment, smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Turnstone Hostel',
  space: '10.66.0.0/16',
  octet: '66',
  number: 48_370,
}

export const laptopController: Exercise = {
  id: 'laptop-controller',
  job: 'J-06',
  name: site.name,
  task:
    'A controller on a laptop: install it, believe its certificate once, adopt the access point, give it ' +
    'a network and a name, firmware up, wait, and a client joins.',
  decides: 'That the client gets an address and gets out, and what stops while the laptop is away.',
  begin: () =>
    applyEdits(smallSite(site), [
      edit('changeDevice', { id: 'controller', changes: { name: 'Laptop with the controller' } }),
      segment('guests', 'Guests', 'guests', 90, 30),
      edit('allocateSegments', { segmentIds: ['guests'] }),
      makers(site).host('guest-phone', 'Phone of a guest', 'handset', 7, 'guests', {
        locationId: null,
      }),
    ]),
  decisions: [
    ...accessPoint(site, { id: 'dorm', name: 'Second Star', segmentId: 'guests' }),
    edit('changeDevice', { id: 'guest-phone', changes: { wirelessNetworkId: 'dorm' } }),
    allow('guests', 'internet', 'any', 'guests reach the internet and nothing else'),
  ],
  leaves: [],
  shows: [
    'Access point is in service',
    'Phone of a guest gets an address in Guests',
    'Phone of a guest reaches the web on the internet',
    'Phone of a guest must not reach the page of Switch',
  ],
}
