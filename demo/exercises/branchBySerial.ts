/** J-01: a branch whose gateway is plugged in by somebody who knows nothing of it. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Sanderling Pharmacy',
  space: '10.61.0.0/16',
  octet: '61',
  number: 23_274,
  hasController: false,
}

export const branchBySerial: Exercise = {
  id: 'branch-by-serial',
  job: 'J-01',
  name: site.name,
  task:
    'Prepare configuration, rules and the new password in a controller on the internet before the ' +
    'box is there. Whoever opens it reads the serial off the label, plugs in power and one cable, and ' +
    'looks at a lamp.',
  decides:
    'That the gateway fetches everything by itself: as from its box, with firmware that can be ' +
    'claimed, an address that comes by itself, and a way out; nobody types anything into it.',
  begin: () =>
    applyEdits(smallSite(site), [
      edit('changeDevice', { id: 'gateway', changes: { serial: null } }),
      edit('recordHandOff', { uplinkId: 'line', facts: { mode: null, vlan: null } }),
    ]),
  decisions: [
    edit('setController', { hosted: { name: 'fleet.example.net' }, port: 443 }),
    edit('recordHandOff', { uplinkId: 'line', facts: { mode: 'automatic', vlan: 'untagged' } }),
    edit('changeDevice', {
      id: 'gateway',
      changes: { serial: 'AM-GAT-24273', school: 'prepared', setUpAt: 'place' },
    }),
    edit('changeDevice', { id: 'switch', changes: { school: 'prepared', setUpAt: 'place' } }),
  ],
  leaves: [],
  shows: [
    'Gateway is in service',
    'Switch is in service',
    'Front desk reaches the web on the internet',
  ],
}
