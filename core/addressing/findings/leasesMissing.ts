/** C-87: hosts that wait for a lease or a reservation that nobody can give. */
import { prefix } from '../../addressing'
import {
  allocationsFor,
  editCall,
  handsOutLeases,
  poolsAround,
  type Device,
  type Segment,
} from '../../plan'
import type { SiteModel } from '../../topology'
import { defineRule, type FindingBody, type Fix } from '../../findings/rule'

const list = (devices: readonly Device[]): string =>
  `${devices
    .slice(0, 3)
    .map((d) => d.name)
    .join(', ')}${devices.length > 3 ? ` and ${devices.length - 3} more` : ''}`
const isAre = (n: number, one: string, more: string): string => (n === 1 ? one : more)

function* ofSegment(model: SiteModel, s: Segment): Generator<FindingBody> {
  const members = model.membersOf(s.id)
  if (!s.subnet) {
    if (members.length > 0)
      yield {
        subjects: [s.id],
        text: `${s.name} has no subnet, and ${list(members)} ${isAre(members.length, 'belongs', 'belong')} to it.`,
        why: 'Nobody in it gets an address, and the gateway takes no configuration.',
        severity: 'blocker',
        fixes:
          allocationsFor(model.plan, [s.id]).unplaced.length === 0
            ? [
                {
                  label: `Place ${s.name}`,
                  edits: [editCall('allocateSegments', { segmentIds: [s.id] })],
                },
              ]
            : [],
      }
    return
  }
  const asking = members.filter((d) => d.addressing.mode !== 'fixed')
  const pools = s.gateway
    ? poolsAround(prefix(s.subnet), [s.gateway], s.fixedBlock ? [s.fixedBlock] : [])
    : []
  const serve: Fix[] =
    pools.length > 0
      ? [
          {
            label: `Let the gateway hand out leases in ${s.name}`,
            edits: [
              editCall('changeSegment', {
                id: s.id,
                changes: { dhcp: { mode: 'server', relayTo: null } },
              }),
              ...(s.pools.length === 0 ? [editCall('setPools', { segmentId: s.id, pools })] : []),
            ],
          },
        ]
      : []
  if (asking.length > 0 && !handsOutLeases(s))
    yield {
      subjects: [s.id, ...asking.slice(0, 3).map((d) => d.id)],
      text:
        `${list(asking)} ${isAre(asking.length, 'asks', 'ask')} for a lease in ${s.name}, ` +
        `${s.dhcp.mode === 'off' ? 'where nobody hands out any' : 'whose server has no pool'}.`,
      why: 'They give themselves an address of the range 169.254 and reach nobody.',
      severity: 'blocker',
      fixes: serve,
    }
}

export default defineRule({
  id: 'addressing/leases-missing',
  severity: 'blocker',
  catches: ['C-87'],
  title: 'Nobody gives these hosts an address',
  sheet: 'addresses',
  reads: ['site', 'segments', 'devices', 'profiles', 'knownNetworks', 'uplinks'],
  *check(model) {
    for (const s of model.segments) yield* ofSegment(model, s)
    for (const d of model.devices)
      if (d.addressing.mode === 'reserved' && d.addressing.address && !d.hardwareAddress)
        yield {
          subjects: [d.id],
          text: `${d.name} has the reservation ${d.addressing.address} and no hardware address to know it by.`,
          why:
            'The server cannot tell it from others: it gets an address of the pool. Read the ' +
            'hardware address off its label.',
          severity: 'caution',
          fixes:
            d.addressing.segmentId &&
            model.segment(d.addressing.segmentId).gateway &&
            !model.profileOf(d.id).adoptable
              ? [
                  {
                    label: `Type the address into ${d.name} instead`,
                    edits: [
                      editCall('changeDevice', {
                        id: d.id,
                        changes: {
                          addressing: {
                            ...d.addressing,
                            mode: 'fixed',
                            gateway: model.segment(d.addressing.segmentId).gateway,
                          },
                        },
                      }),
                    ],
                  },
                ]
              : [],
        }
  },
})
