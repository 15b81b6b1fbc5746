/** J-02: a pair of bridges, set by their buttons, to a shed across the yard. */
import { applyEdits, editCall as edit, plainEnd } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { acrossTheAir, smallSite, type SmallSite } from './small'

const site: SmallSite = { name: 'Rook Farm', space: '10.62.0.0/16', octet: '62', number: 26_411 }
const end = {
  ...plainEnd,
  heightM: 6,
  mount: 'wall' as const,
  channel: null,
  keyRef: 'bridge-yard',
}

export const bridgePair: Exercise = {
  id: 'bridge-pair',
  job: 'J-02',
  name: site.name,
  task:
    'Two units that look alike, two injectors with two sockets that look alike: opposite roles, the same ' +
    'channel, set by their buttons; then password and country with the ' +
    'laptop; mounted and turned for the best reading.',
  decides:
    'That the shed gets an address and gets out, and that the bridge carries what is asked of it.',
  begin: () =>
    applyEdits(smallSite(site), [
      edit('addLocation', { id: 'shed', name: 'Shed', kind: 'building', mains: true }),
      ...acrossTheAir(site, {
        profileId: 'bridge-hand-pair',
        lengthM: 180,
        near: { name: 'Bridge, house end', locationId: 'room' },
        far: { name: 'Bridge, shed end', locationId: 'shed' },
        host: { id: 'till', name: 'Farm shop till' },
      }),
    ]),
  decisions: [
    edit('addBridge', {
      id: 'yard',
      name: 'Yard bridge',
      linkId: 'l-air',
      a: { ...end, role: 'main' },
      b: { ...end, role: 'far' },
      ground: [
        { atM: 0, heightM: 40 },
        { atM: 180, heightM: 40 },
      ],
      obstacles: [],
      climate: 'temperate',
      wantedMbps: { toB: 20, toA: 20 },
      availabilityPercent: 99.9,
    }),
  ],
  leaves: [],
  shows: [
    'Farm shop till gets an address in Staff',
    'Farm shop till reaches the web on the internet',
  ],
}
