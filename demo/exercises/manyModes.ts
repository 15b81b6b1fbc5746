/** J-21: an extender that could also be an access point or a client, with antennas of its own. */
import { editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { farRoom, type FarRoom } from './farRoom'

const room: FarRoom = {
  site: { name: 'Ruff Boathouse', space: '10.81.0.0/16', octet: '81', number: 51_507 },
  network: 'High Water',
  extender: { name: 'Loft extender', profileId: 'extender-modes' },
  tablet: 'Phone on the jetty',
}

export const manyModes: Exercise = {
  id: 'many-modes',
  job: 'J-21',
  name: room.site.name,
  task:
    'Its antennas are screwed on before it has power; the laptop goes onto its subnet; of its modes the ' +
    'one that repeats, the network by a scan, a restart; then about where half of the signal is left. ' +
    'Is it better now?',
  decides:
    'That nothing has power before the antennas are on, that it stands at about half the signal, and ' +
    'that the phone on the jetty carries more than without it.',
  begin: () => farRoom(room),
  decisions: [
    edit('changeSite', { wireless: { extenders: 'half' } }),
    edit('changeDevice', { id: 'extender', changes: { mode: 'repeater' } }),
  ],
  leaves: [],
  shows: [
    'Phone on the jetty gets an address in Staff',
    'Phone on the jetty reaches the web on the internet',
  ],
}
