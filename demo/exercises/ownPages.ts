/** J-03: a gateway out of its box, with no controller anywhere. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { plainHandOff, smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Wren Bakery',
  space: '10.61.0.0/16',
  octet: '63',
  number: 67_192,
  hasController: false,
}

export const ownPages: Exercise = {
  id: 'own-pages',
  job: 'J-03',
  name: site.name,
  task:
    'A gateway and a switch out of their boxes, nobody adopts them: password first, the line found ' +
    'or typed, each set up by its own page, and tested.',
  decides:
    'Which socket is the line and which the LAN, that nothing hangs on the line unprotected, and that ' +
    'what is loaded by hand is what was planned.',
  begin: () =>
    applyEdits(smallSite(site), [
      // Found by itself, or typed: nobody knows yet.
      edit('changeUplink', {
        id: 'line',
        changes: { handOff: { ...plainHandOff, nameServers: [], mode: null, vlan: null } },
      }),
    ]),
  decisions: [
    edit('recordHandOff', { uplinkId: 'line', facts: { mode: 'automatic', vlan: 'untagged' } }),
  ],
  leaves: ['adoption/no-controller'],
  shows: [
    'Front desk reaches the web on the internet',
    "The internet must not reach the gateway's page",
    'Front desk must not reach the page of Switch',
  ],
}
