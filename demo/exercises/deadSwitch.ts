/** J-22: a device died; another takes its place, with its addresses and what hung on it. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { allow, server, smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Avocet Print Shop',
  space: '10.82.0.0/16',
  octet: '82',
  number: 32_685,
}

export const deadSwitch: Exercise = {
  id: 'dead-switch',
  job: 'J-22',
  name: site.name,
  task:
    'The switch with eight sockets is dead, and the shop that is open has only one of twenty-four. Put ' +
    'that in its place: new serial, new hardware address, the same addresses and VLANs, and prove what hung on it.',
  decides:
    'That everything which hung on the dead one gets out again, and nothing more than before.',
  begin: () =>
    applyEdits(smallSite(site), [
      ...server(site, 'Presses', { id: 'press', name: 'Press', serviceIds: ['svc-print'] }),
      allow('staff', 'servers', ['svc-print'], 'the desk prints'),
    ]),
  decisions: [
    edit('replaceDevice', { id: 'switch', profileId: 'switch-24-poe-190' }),
    edit('changeDevice', {
      id: 'switch',
      changes: { serial: 'AM-SWI-33684', hardwareAddress: '02:4a:82:00:00:99' },
    }),
  ],
  leaves: [],
  shows: [
    'Front desk reaches printing on Press in Presses',
    'Press must not reach the web on the internet',
    'Switch is in service',
  ],
}
