/** J-11: an extender that is plugged into an outlet, for a room that hears too little. */
import type { Exercise } from './exercise'
import { farRoom, type FarRoom } from './farRoom'

const room: FarRoom = {
  site: { name: 'Brent Cottage', space: '10.71.0.0/16', octet: '71', number: 70_329 },
  network: 'Slow Kettle',
  extender: { name: 'Stairs extender', profileId: 'extender-2x2' },
  tablet: 'Tablet in the far room',
}

export const plugInExtender: Exercise = {
  id: 'plug-in-extender',
  job: 'J-11',
  name: room.site.name,
  task:
    'An extender for the far room: plugged in beside the access point while it is set up, by its ' +
    'address, its own network or a cable; then at the best outlet, which is not the one in that room.',
  decides: 'That it hears 65 % at its outlet, and that the tablet in the far room gets out by it.',
  begin: () => farRoom(room),
  decisions: [],
  leaves: [],
  shows: [
    'Tablet in the far room gets an address in Staff',
    'Tablet in the far room reaches the web on the internet',
  ],
}
