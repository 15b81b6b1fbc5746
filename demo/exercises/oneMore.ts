/** J-18: one device more on a claim list. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { accessPoint, makers, smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Whimbrel Library',
  space: '10.78.0.0/16',
  octet: '78',
  number: 60_918,
}

export const oneMore: Exercise = {
  id: 'one-more',
  job: 'J-18',
  name: site.name,
  task:
    'An access point comes to those that are claimed already: model, serial and hardware address off its ' +
    'label, field by field, into the list; one more than before, and waiting for its first call is no error.',
  decides:
    'That the list counts one more than before, and every row is told apart from the others.',
  begin: () =>
    applyEdits(smallSite(site), [
      ...accessPoint(site, { id: 'wifi', name: 'Quiet Please', segmentId: 'staff' }),
      makers(site).host('reader', 'Tablet of the reading room', 'handset', 6, 'staff', {
        locationId: null,
      }),
      edit('changeDevice', { id: 'reader', changes: { wirelessNetworkId: 'wifi' } }),
      edit('changeDevice', { id: 'ap', changes: { serial: null, hardwareAddress: null } }),
    ]),
  decisions: [
    edit('changeDevice', {
      id: 'ap',
      changes: { serial: 'AM-AP-61103', hardwareAddress: '02:4a:78:00:00:05' },
    }),
  ],
  leaves: [],
  shows: [
    'Access point is in service',
    'Tablet of the reading room reaches the web on the internet',
  ],
}
