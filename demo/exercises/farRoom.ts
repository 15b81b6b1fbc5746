/** A house whose far room hears next to nothing of its access point: what two exercises have in common. */
import { applyEdits, editCall as edit, type EditCall, type SitePlan } from '@mast/core/plan'
import { accessPoint, makers, smallSite, type SmallSite } from './small'

const hangs = (id: string, x: number, heightM: number): EditCall =>
  edit('changeDevice', {
    id,
    changes: { place: { floorId: 'ground', x, y: 5, heightM, degrees: 0, stays: true } },
  })

export interface FarRoom {
  readonly site: SmallSite
  readonly network: string
  readonly extender: { readonly name: string; readonly profileId: string }
  /** Who sits in the far room. */
  readonly tablet: string
}

/** The extender begins beside who is to be better served, where it hears as little. */
export const farRoom = ({ site, network, extender, tablet }: FarRoom): SitePlan =>
  applyEdits(smallSite(site), [
    makers(site).host('tablet', tablet, 'handset', 7, 'staff', { locationId: null }),
    ...accessPoint(site, { id: 'wifi', name: network, segmentId: 'staff' }),
    edit('changeDevice', { id: 'tablet', changes: { wirelessNetworkId: 'wifi' } }),
    edit('addFloor', {
      id: 'ground',
      name: 'Ground floor',
      widthM: 44,
      depthM: 10,
      coefficient: 30,
    }),
    ...[
      { id: 'kitchen-wall', x: 14 },
      { id: 'hall-wall', x: 27 },
    ].map(({ id, x }) =>
      edit('addWall', {
        id,
        floorId: 'ground',
        material: 'brick-double',
        points: [
          { x, y: 0 },
          { x, y: 10 },
        ],
        openings: [],
      }),
    ),
    edit('changeFloor', {
      id: 'ground',
      changes: { outlets: [6, 12, 16, 20, 25, 30, 38].map((x) => ({ x, y: 5 })) },
    }),
    edit('addDevice', { id: 'extender', locationId: 'room', ...extender }),
    hangs('ap', 3, 2.5),
    hangs('tablet', 41, 1),
    hangs('extender', 38, 0.4),
    edit('changeDevice', { id: 'extender', changes: { listensToId: 'ap' } }),
  ])
