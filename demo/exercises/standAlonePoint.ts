/** J-12: one access point, set up by its own page, that serves a café. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { accessPoint, allow, makers, segment, smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Sandpiper Café',
  space: '10.72.0.0/16',
  octet: '7c',
  number: 82_877,
  hasController: false,
}

export const standAlonePoint: Exercise = {
  id: 'stand-alone-point',
  job: 'J-12',
  name: site.name,
  task:
    'An access point on its own: one name for both bands, the newest security beside the older, a page ' +
    'for guests with its time, push-button off, lamps off at night, its own pages kept from guests.',
  decides: 'That guests get out, and reach neither its page nor anything of the café.',
  begin: () =>
    applyEdits(smallSite(site), [
      segment('guests', 'Guests', 'guests', 90, 60),
      edit('allocateSegments', { segmentIds: ['guests'] }),
      makers(site).host('guest-phone', 'Phone of a guest', 'handset', 7, 'guests', {
        locationId: null,
      }),
      ...accessPoint(site, {
        id: 'cafe',
        name: 'Flat White',
        segmentId: 'guests',
        more: { joinsByButton: true, clientIsolation: false },
      }),
      edit('changeDevice', { id: 'guest-phone', changes: { wirelessNetworkId: 'cafe' } }),
      allow('guests', 'internet', 'any', 'guests reach the internet and nothing else'),
    ]),
  decisions: [
    edit('changeWirelessNetwork', {
      id: 'cafe',
      changes: { joinsByButton: false, clientIsolation: true },
    }),
    edit('changeSite', {
      wireless: { dark: { fromMinute: 1320, toMinute: 420 }, restart: { day: 0, minute: 240 } },
    }),
  ],
  leaves: ['adoption/no-controller'],
  shows: [
    'Phone of a guest reaches the web on the internet',
    'Phone of a guest must not reach the page of Switch',
    'Phone of a guest must not reach ping on Front desk in Staff',
  ],
}
