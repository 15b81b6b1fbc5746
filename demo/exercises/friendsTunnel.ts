/** J-07: a tunnel into the house for friends, from wherever they are. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { allow, smallSite, type SmallSite } from './small'

const site: SmallSite = { name: 'Linnet House', space: '10.67.0.0/16', octet: '67', number: 45_233 }
const friend = (id: string, name: string, device: 'laptop' | 'phone', n: number) =>
  edit('addPeer', { id, name, device, tunnelId: 'friends', address: `10.67.250.${n}` })

export const friendsTunnel: Exercise = {
  id: 'friends-tunnel',
  job: 'J-07',
  name: site.name,
  task:
    'Friends reach the desk from outside by a tunnel that ends on the gateway: a profile for each ' +
    'device, private numbers, access to the house, a file carried safely, tried over another line.',
  decides:
    'That both shake hands from outside and reach what they may, and what the tunnel can carry.',
  begin: () =>
    applyEdits(smallSite(site), [
      edit('changeDevice', { id: 'desk', changes: { serviceIds: ['svc-web'] } }),
      edit('changeSite', { electricity: { pricePerKwh: 0.3, currency: 'GBP' } }),
    ]),
  decisions: [
    edit('addTunnel', {
      id: 'friends',
      name: 'Friends',
      hostDeviceId: 'gateway',
      subnet: '10.67.250.0/24',
      listenPort: 51_820,
      endpointName: 'linnet.example.org',
      dynamicName: { how: 'web', server: 'names.example.org', ttlSeconds: 300 },
    }),
    friend('robin', 'Laptop of a friend', 'laptop', 2),
    friend('martin', 'Phone of a friend', 'phone', 3),
    allow('robin', 'staff', ['svc-web'], 'a friend looks at the desk'),
    allow('martin', 'staff', ['svc-web'], 'a friend looks at the desk'),
  ],
  leaves: [],
  shows: [
    'Laptop of a friend and Friends shake hands, from outside',
    'Laptop of a friend reaches web on Front desk',
  ],
}
