/** J-05: a gateway that is claimed and named before it is plugged in, for staff, servers and guests. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { accessPoint, allow, makers, segment, server, smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Plover Surgery',
  space: '10.65.0.0/16',
  octet: '65',
  number: 73_466,
}

export const portalGateway: Exercise = {
  id: 'portal-gateway',
  job: 'J-05',
  name: site.name,
  task:
    'Claim and name the gateway while it is in its box; staff, servers and guests in segments of ' +
    'their own, guests in neither of the others; a file store that keeps its address.',
  decides:
    'That a device which has not called yet is waited for and is no fault, and that guests reach the ' +
    'internet and nothing else.',
  begin: () =>
    applyEdits(smallSite(site), [
      ...server(site, 'Servers', { id: 'store', name: 'File store', serviceIds: ['svc-web'] }),
      segment('guests', 'Guests', 'guests', 90, 40),
      makers(site).host('guest-phone', 'Phone of a guest', 'handset', 7, 'guests', {
        locationId: null,
      }),
      edit('allocateSegments', { segmentIds: ['guests'] }),
      ...accessPoint(site, { id: 'guest-wifi', name: 'Waiting Room', segmentId: 'guests' }),
      edit('changeDevice', { id: 'guest-phone', changes: { wirelessNetworkId: 'guest-wifi' } }),
      allow('guests', 'internet', 'any', 'guests reach the internet and nothing else'),
      // Left over from the day on which somebody wanted to show holiday pictures.
      allow('guests', 'servers', 'any', 'so that a guest could look at the pictures'),
    ]),
  decisions: [
    edit('clearIntents', { from: 'guests', to: 'servers' }),
    allow('staff', 'servers', ['svc-web'], 'the desk works on the file store'),
  ],
  leaves: [],
  shows: [
    'Phone of a guest must not reach web (tcp 443) on File store in Servers',
    'Phone of a guest must not reach ping on Front desk in Staff',
    'Phone of a guest reaches the web on the internet',
    'Front desk reaches web (tcp 443) on File store in Servers',
  ],
}
