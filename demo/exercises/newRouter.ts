/** J-14: a new gateway and controller in place of the provider's own router. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { accessPoint, makers, plainHandOff, smallSite, type SmallSite } from './small'

const site: SmallSite = { name: 'Curlew Yoga', space: '10.74.0.0/16', octet: '74', number: 54_644 }

export const newRouter: Exercise = {
  id: 'new-router',
  job: 'J-14',
  name: site.name,
  task:
    "Take the provider's facts before anything is unplugged: tag, priority, pinned hardware address. " +
    'Then the new gateway, the exact controller address, and everything adopted.',
  decides:
    'Which sockets are lines, what the hand-off asks for, and where the next device is found.',
  begin: () =>
    applyEdits(smallSite(site), [
      makers(site).host('phone', 'Phone', 'handset', 6, 'staff', { locationId: null }),
      ...accessPoint(site, { id: 'wifi', name: 'Low Tide', segmentId: 'staff' }),
      edit('changeDevice', { id: 'phone', changes: { wirelessNetworkId: 'wifi' } }),
      // Nobody asked yet.
      edit('changeUplink', {
        id: 'line',
        changes: {
          handOff: {
            ...plainHandOff,
            nameServers: [],
            vlan: null,
            priority: null,
            pinnedHardwareAddress: null,
          },
        },
      }),
    ]),
  decisions: [
    edit('recordHandOff', {
      uplinkId: 'line',
      facts: { vlan: 7, priority: 1, pinnedHardwareAddress: '02:4a:74:00:0f:0f' },
    }),
  ],
  leaves: [],
  shows: [
    'The internet answers, asked by the gateway',
    'Access point is in service',
    'Phone reaches the web on the internet',
  ],
}
