/** J-19: a tunnel that ends on a server behind the gateway. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { allow, server, smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Goldcrest Workshop',
  space: '10.79.0.0/16',
  octet: '79',
  number: 86_014,
}

export const tunnelServer: Exercise = {
  id: 'tunnel-server',
  job: 'J-19',
  name: site.name,
  task:
    'A server takes the tunnel: its packages and a restart first, keys, an address, the port led to it, ' +
    'the peer and what it may reach, its file; tried inside, then outside, under a name that follows the address.',
  decides:
    'That the port is led to the server, and that the way back from the workshop goes by it.',
  begin: () =>
    applyEdits(smallSite(site), [
      ...server(site, 'Servers', { id: 'box', name: 'Tunnel server' }),
      edit('changeDevice', { id: 'desk', changes: { serviceIds: ['svc-web'] } }),
      allow('servers', 'internet', 'any', 'the server fetches its packages'),
    ]),
  decisions: [
    edit('addTunnel', {
      ...{ id: 'home', name: 'Home', hostDeviceId: 'box', subnet: '10.79.250.0/24' },
      ...{ listenPort: 51_820, endpointName: 'goldcrest.example.org' },
      dynamicName: { how: 'web', server: 'names.example.org', ttlSeconds: 300 },
    }),
    edit('addPeer', {
      ...{ id: 'joiner', name: 'Laptop at home', tunnelId: 'home', device: 'laptop' },
      address: '10.79.250.2',
    }),
    allow('joiner', 'staff', ['svc-web'], 'the joiner looks at the desk'),
  ],
  leaves: [],
  shows: [
    'Laptop at home and Home shake hands, from outside',
    'Laptop at home reaches web on Front desk',
  ],
}
