/** J-20: a radio many kilometres off, licensed, unlocked by its serial. */
import { applyEdits, editCall as edit, plainEnd } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { acrossTheAir, smallSite, type SmallSite } from './small'

const site: SmallSite = { name: 'Gannet Head', space: '10.80.0.0/16', octet: '80', number: 42_096 }
const end = { ...plainEnd, channel: null, keyRef: 'bridge-head', country: 'GB' }

export const farRadio: Exercise = {
  id: 'far-radio',
  job: 'J-20',
  name: site.name,
  task:
    'A radio to the head, eight kilometres over water: a trial reading with a smaller antenna, a mount held by ' +
    'weight, firmware, the code for the serial on its label, coordinates, power that the ' +
    'licence allows; then aim by voice.',
  decides:
    'That the peak is the main lobe and no other, and that it carries what is asked of it most of the year.',
  begin: () =>
    applyEdits(smallSite(site), [
      edit('addLocation', { id: 'roof', name: 'Roof', kind: 'roof', mains: false }),
      edit('addLocation', { id: 'head', name: 'The head', kind: 'building', mains: true }),
      ...acrossTheAir(site, {
        profileId: 'bridge-11ghz',
        lengthM: 8000,
        near: { name: 'Radio, house end', locationId: 'roof' },
        far: { name: 'Radio, head end', locationId: 'head' },
        host: { id: 'watch', name: 'Watch desk' },
      }),
    ]),
  decisions: [
    edit('addBridge', {
      id: 'over-water',
      name: 'Bridge to the head',
      linkId: 'l-air',
      a: { ...end, role: 'main', heightM: 22, mount: 'weighted', ballastKg: 120 },
      b: { ...end, role: 'far', heightM: 18, mount: 'mast' },
      ground: [
        { atM: 0, heightM: 12 },
        { atM: 200, heightM: 0 },
        { atM: 7800, heightM: 0 },
        { atM: 8000, heightM: 20 },
      ],
      obstacles: [],
      climate: 'maritime',
      wantedMbps: { toB: 50, toA: 50 },
      availabilityPercent: 99.9,
      licensedDbm: 60,
      trial: { end: 'b', gainDbi: 30, dbm: -55, takenOn: '2026-10-02' },
    }),
    edit('changeDevice', { id: 'near', changes: { licencesHeld: ['unlock-code'] } }),
    edit('changeDevice', { id: 'far', changes: { licencesHeld: ['unlock-code'] } }),
  ],
  leaves: [],
  shows: ['Watch desk gets an address in Staff', 'Watch desk reaches its gateway'],
}
