/** C-07 for IPv6: /64s that meet, lie outside what is delegated, or do not suffice. */
import { inPlan, editCall } from '../../plan'
import { containsPrefix, overlaps, parsePrefix, prefix, sixtyFoursIn } from '../../addressing'
import { defineRule, type Fix } from '../../findings/rule'

export default defineRule({
  id: 'addressing/ipv6-space',
  severity: 'blocker',
  catches: ['C-07'],
  title: 'The IPv6 plan does not hold',
  sheet: 'addresses',
  reads: ['site', 'segments', 'uplinks', 'knownNetworks'],
  *check(model) {
    const { plan } = model
    const again: Fix[] =
      plan.site.addressSpace6.length > 0
        ? [
            {
              label: 'Give the segments /64s again',
              edits: [editCall('allocateSixtyFours', {})],
            },
          ]
        : []
    const off = (id: string): Fix => ({
      label: 'Do without IPv6 here',
      edits: [editCall('changeSegment', { id, changes: { subnet6: null } })],
    })
    const placed = model.segments.flatMap((s) => {
      const p = s.subnet6 ? parsePrefix(s.subnet6) : undefined
      return p ? [{ s, p }] : []
    })
    const spaces = plan.site.addressSpace6.map(prefix)
    const byNetwork = new Map<bigint, string>()
    for (const { s, p } of placed) {
      const other = byNetwork.get(p.network)
      if (other)
        yield {
          subjects: [s.id, other],
          text: `${inPlan(plan.segments, other).name} and ${s.name} both have ${s.subnet6}.`,
          why: 'Routes to one of them lead to the other.',
          fixes: [off(s.id)],
        }
      else byNetwork.set(p.network, s.id)
      const known = Object.values(plan.knownNetworks).find((n) => {
        const k = parsePrefix(n.prefix)
        return k !== undefined && overlaps(k, p)
      })
      if (known)
        yield {
          subjects: [s.id, known.id],
          text: `${s.name} ${s.subnet6} overlaps ${known.name} ${known.prefix}.`,
          why: 'What is meant for one of them reaches the other.',
          fixes: [off(s.id)],
        }
      if (!spaces.some((space) => containsPrefix(space, p)))
        yield {
          severity: 'caution',
          subjects: [s.id],
          text:
            `${s.name} ${s.subnet6} lies outside ` +
            `${plan.site.addressSpace6.join(', ') || 'the IPv6 space, of which the site has none'}.`,
          why: 'The provider routes only what it delegates; answers never come back.',
          fixes: [...again, off(s.id)],
        }
    }
    for (const u of Object.values(plan.uplinks)) {
      const six = u.handOff.ipv6
      if (six === null || six === 'none' || plan.site.addressSpace6.length === 0) continue
      const wanted = placed.length
      if (wanted <= sixtyFoursIn(six.length)) continue
      yield {
        subjects: [u.id],
        text:
          `${u.name} delegates a /${six.length}, which holds ${sixtyFoursIn(six.length)} /64s; ` +
          `the plan uses ${wanted}.`,
        why: 'Segments beyond that have no IPv6 that the provider routes; ask for a /56 or shorter.',
        numbers: [
          {
            label: '/64s',
            value: `${wanted} of ${sixtyFoursIn(six.length)}`,
            how: `2^(64 - ${six.length}) (RFC 6177)`,
          },
        ],
        fixes: [
          {
            label: `Do without IPv6 in ${placed
              .slice(sixtyFoursIn(six.length))
              .map(({ s }) => s.name)
              .join(', ')}`,
            edits: placed.slice(sixtyFoursIn(six.length)).flatMap(({ s }) => off(s.id).edits),
          },
        ],
      }
    }
  },
})
