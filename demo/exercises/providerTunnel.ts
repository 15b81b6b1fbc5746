/** J-08: a tunnel to a provider, which one machine uses and the others do not. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { cable, makers, smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Siskin Charts',
  space: '10.68.0.0/16',
  octet: '68',
  number: 76_603,
}

export const providerTunnel: Exercise = {
  id: 'provider-tunnel',
  job: 'J-08',
  name: site.name,
  task:
    'The machine that downloads charts is to come out at the northern exit of a provider, and nothing ' +
    'else is: a key pair, a place, the file read in, one of several active.',
  decides:
    'That this machine comes out there, that the desk does not, and what happens while it is down.',
  begin: () =>
    applyEdits(smallSite(site), [
      makers(site).host('charts', 'Chart machine', 'wired-host', 6, 'staff'),
      cable('l-charts', 'switch.5', 'charts.eth0', 6),
      edit('setUntagged', { segmentId: 'staff', portIds: ['switch.5'] }),
    ]),
  decisions: [
    edit('addTunnel', {
      id: 'north',
      name: 'Northern exit',
      kind: 'provider',
      hostDeviceId: 'gateway',
      subnet: '10.64.12.7/32',
      throughIds: ['charts'],
      whenDown: 'blocked',
    }),
    edit('addPeer', {
      id: 'exit',
      name: 'Exit',
      tunnelId: 'north',
      device: 'server',
      endpoint: { host: 'north.charts.example', port: 51_820 },
      keepaliveSeconds: 25,
    }),
  ],
  leaves: [],
  shows: [
    'Chart machine comes out at Exit',
    'Chart machine reaches nothing outside while Exit is off',
    'Controller comes out by the line, and not at Exit',
  ],
}
