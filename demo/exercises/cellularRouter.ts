/** J-10: a site whose only line is a cellular router. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { makers, plainHandOff, smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Skua Research Hut',
  space: '10.70.0.0/16',
  octet: '70',
  number: 29_548,
}

export const cellularRouter: Exercise = {
  id: 'cellular-router',
  job: 'J-10',
  name: site.name,
  task:
    'A cellular router as the line: the card and each aerial in its own socket before it has power, its ' +
    'password, its access point name; restart, and look again.',
  decides:
    'That nothing has power before the card and the aerials are in, and that the desk gets out.',
  begin: () =>
    applyEdits(smallSite(site), [
      makers(site).host('cell', 'Cellular router', 'cellular-router', 6, 'staff', {
        addressing: { mode: 'automatic', segmentId: null, address: null, gateway: null },
      }),
    ]),
  decisions: [
    edit('changeDevice', { id: 'cell', changes: { licencesHeld: ['sim'] } }),
    edit('changeUplink', {
      id: 'line',
      changes: {
        handOff: {
          ...plainHandOff,
          mode: 'cellular',
          nameServers: [],
          accessPointName: 'data.example',
          addressKind: 'carrier-grade',
          downMbps: 30,
          upMbps: 8,
          cap: { gigabytes: 50, pricePerGb: 4 },
        },
        cellular: {
          account: 'Skua field station',
          card: '8944 0000 0000 7654 321',
          antennas: [
            { name: 'Main', socket: 'A' },
            { name: 'Second', socket: 'B' },
          ],
        },
      },
    }),
  ],
  leaves: [],
  shows: [
    'Front desk reaches the web on the internet',
    'The internet answers, asked by the gateway',
  ],
}
