/** C-87: a segment whose gateway is to hand out leases and has none to give. */
import { parsePrefix, spanSize, usableHosts } from '../../addressing'
import { editCall, poolsAround } from '../../plan'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'addressing/pool-missing',
  severity: 'caution',
  catches: ['C-87'],
  title: 'A lease server without leases',
  sheet: 'addresses',
  reads: ['segments', 'devices', 'profiles'],
  *check(model) {
    for (const s of model.segments) {
      const subnet = s.subnet ? parsePrefix(s.subnet) : undefined
      if (!subnet || s.dhcp.mode !== 'server' || s.pools.length > 0 || !s.gateway) continue
      // Who asks already is told of where nobody gives them an address.
      if (model.membersOf(s.id).some((d) => d.addressing.mode !== 'fixed')) continue
      const isAllFixed =
        s.fixedBlock !== null && BigInt(spanSize(s.fixedBlock)) >= usableHosts(subnet) - 1n
      const pools = poolsAround(subnet, [s.gateway], s.fixedBlock ? [s.fixedBlock] : [])
      yield {
        subjects: [s.id],
        text:
          `${s.name} hands out leases and has no pool` +
          (isAllFixed ? ': its block for fixed addresses is the whole subnet.' : '.'),
        why: 'Whoever comes gets no address.',
        fixes: [
          ...(pools.length > 0
            ? [
                {
                  label: `Give it the pool ${pools.map((p) => `${p.first}-${p.last}`).join(', ')}`,
                  edits: [editCall('setPools', { segmentId: s.id, pools })],
                },
              ]
            : []),
          {
            label: 'Hand out no leases there',
            edits: [
              editCall('changeSegment', {
                id: s.id,
                changes: { dhcp: { mode: 'off', relayTo: null } },
              }),
            ],
          },
        ],
      }
    }
  },
})
