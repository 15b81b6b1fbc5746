/** C-54: a tunnel network that is public space, missing, or overlaps either side. */
import { classifyPrefix, overlaps, parsePrefix } from '../../addressing'
import {
  editCall,
  freePeerAddress,
  freeTunnelNetwork,
  movedAddress,
  ownTunnelAddress,
  peersOf,
  takenForTunnels,
  type SitePlan,
  type Tunnel,
} from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'

function moveTo(plan: SitePlan, t: Tunnel): Fix[] {
  const free = freeTunnelNetwork(plan, t.id)
  if (!free) return []
  return [
    {
      label: `Use ${free}`,
      edits: [
        editCall('changeTunnel', {
          id: t.id,
          changes: {
            subnet: free,
            ...(t.address && t.subnet ? { address: movedAddress(t.address, t.subnet, free) } : {}),
          },
        }),
        ...peersOf(plan, t.id).flatMap((p) =>
          p.address && t.subnet
            ? [
                editCall('changePeer', {
                  id: p.id,
                  changes: { address: movedAddress(p.address, t.subnet, free) },
                }),
              ]
            : [],
        ),
      ],
    },
  ]
}

export default defineRule({
  id: 'tunnels/network',
  severity: 'blocker',
  catches: ['C-54'],
  title: 'The network of a tunnel',
  sheet: 'tunnels',
  reads: ['tunnels', 'peers', 'segments', 'uplinks', 'devices', 'profiles', 'knownNetworks'],
  *check({ plan }) {
    for (const t of Object.values(plan.tunnels)) {
      if (t.kind === 'provider') continue
      if (!t.subnet) {
        yield {
          key: `none:${t.id}`,
          severity: 'caution',
          subjects: [t.id],
          text: `${t.name} has no network of its own yet.`,
          why: 'Whoever comes in needs an address that is nowhere else.',
          fixes: moveTo(plan, t),
        }
        continue
      }
      const own = parsePrefix(t.subnet)!
      const entry = classifyPrefix(own)
      if (entry.kind !== 'private')
        yield {
          key: `public:${t.id}`,
          severity: 'caution',
          subjects: [t.id],
          text: `${t.name} uses ${t.subnet}: that is ${entry.name}, not private space (${entry.source}).`,
          why: 'Whoever really has these addresses cannot be reached while the tunnel is up.',
          numbers: [
            { label: 'network', value: t.subnet, how: 'RFC 1918: 10/8, 172.16/12, 192.168/16' },
          ],
          fixes: moveTo(plan, t),
        }
      else if (takenForTunnels(plan, t.id).some((p) => overlaps(p, own)))
        yield {
          key: `overlap:${t.id}`,
          subjects: [t.id],
          text:
            `${t.name} uses ${t.subnet}, which is taken: by a segment, a line, another ` +
            'tunnel, or what lies behind one.',
          why: 'One address would belong to two places.',
          fixes: moveTo(plan, t),
        }
      const seen = new Map<string, string>([[ownTunnelAddress(t) ?? '', t.name]])
      for (const p of peersOf(plan, t.id)) {
        const a = p.address
        const free = freePeerAddress(plan, t.id)
        const wrong =
          a === null
            ? `${p.name} has no address in ${t.name} yet.`
            : seen.has(a)
              ? `${p.name} has ${a} in ${t.name}, as ${seen.get(a)!} has.`
              : !overlaps(own, parsePrefix(`${a}/32`)!)
                ? `${p.name} has ${a}, which does not lie in ${t.subnet} of ${t.name}.`
                : null
        if (a !== null && !seen.has(a)) seen.set(a, p.name)
        if (wrong === null) continue
        yield {
          key: `address:${p.id}`,
          subjects: [p.id, t.id],
          text: wrong,
          why: 'What is sent to an address goes to one peer, the last that has it.',
          fixes: free
            ? [
                {
                  label: `Give ${p.name} ${free}`,
                  edits: [editCall('changePeer', { id: p.id, changes: { address: free } })],
                },
              ]
            : [],
        }
      }
    }
  },
})
