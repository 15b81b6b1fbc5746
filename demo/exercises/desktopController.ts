/** J-16: a gateway into a controller on a desktop, with inspection that is slower than the line. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { plainHandOff, smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Fulmar Freight',
  space: '10.76.0.0/16',
  octet: '76',
  number: 35_822,
}

export const desktopController: Exercise = {
  id: 'desktop-controller',
  job: 'J-16',
  name: site.name,
  task:
    'The gateway works as it is; take it into the controller on the desktop: runtime first, firmware first, ' +
    'backup on. Somebody switched inspection on, and the line is faster than that.',
  decides: 'What the gateway can inspect against what the line carries.',
  begin: () =>
    applyEdits(smallSite(site), [
      edit('changeDevice', { id: 'controller', changes: { name: 'Desktop with the controller' } }),
      edit('changeUplink', {
        id: 'line',
        changes: {
          handOff: { ...plainHandOff, nameServers: [], downMbps: 1000, upMbps: 500 },
          isInspected: true,
        },
      }),
    ]),
  decisions: [edit('changeUplink', { id: 'line', changes: { isInspected: false } })],
  leaves: [],
  shows: ['Gateway is in service', 'Front desk reaches the web on the internet'],
}
