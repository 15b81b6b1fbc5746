/** J-17: a wireless network that was put up in an afternoon, made safe. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { accessPoint, makers, smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Redshank Solicitors',
  space: '10.77.0.0/16',
  octet: '77',
  number: 79_740,
}

export const safeWireless: Exercise = {
  id: 'safe-wireless',
  job: 'J-17',
  name: site.name,
  task:
    'The network tells whose it is, lets people join by a button that is left on, and uses what is ' +
    'soon broken. A name that tells nothing, the newest security that all can do, a short list of who may join.',
  decides: 'Which segment it lands in, and that nobody joins who has no key or is not on the list.',
  begin: () =>
    applyEdits(smallSite(site), [
      makers(site).host('laptop', 'Laptop', 'handset', 6, 'staff', { locationId: null }),
      ...accessPoint(site, {
        id: 'wifi',
        name: 'Redshank Solicitors 2nd floor',
        segmentId: 'staff',
        more: { security: 'wpa-wpa2', joinsByButton: true },
      }),
      edit('changeDevice', { id: 'laptop', changes: { wirelessNetworkId: 'wifi' } }),
    ]),
  decisions: [
    edit('changeWirelessNetwork', {
      id: 'wifi',
      changes: {
        name: 'Grey Heron',
        security: 'wpa2-wpa3',
        joinsByButton: false,
        allowed: ['02:4a:77:00:00:06'],
      },
    }),
  ],
  leaves: [],
  shows: ['Laptop gets an address in Staff', 'Laptop must not reach the page of Switch'],
}
