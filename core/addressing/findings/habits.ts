/** The site's own habits of numbering: VLAN 1 kept empty, numbers that everybody else has too. */
import { parsePrefix, prefix, usualCollisions } from '../../addressing'
import { editCall, allocationsFor, firstFreeVlan, type Segment } from '../../plan'
import type { SiteModel } from '../../topology'
import { moveToFreeSpace } from '../../findings/relocation'
import { defineRule } from '../../findings/rule'

/** Whether planning it again brings it to where not everybody is. */
function isBetterPlaced(model: SiteModel, s: Segment): boolean {
  const [at] = allocationsFor(model.plan, [s.id]).allocations
  return !at || usualCollisions(prefix(at.subnet)).length === 0
}

export default defineRule({
  id: 'addressing/habits',
  severity: 'caution',
  catches: [],
  title: 'Numbers that will be in the way',
  sheet: 'addresses',
  reads: ['site', 'segments', 'devices', 'profiles', 'uplinks', 'knownNetworks'],
  *check(model) {
    const used = new Set(model.segments.map((s) => s.vlanId))
    for (const s of model.segments) {
      if (s.vlanId === 1 && model.plan.site.preferences.vlanOne === 'empty') {
        const vlan = firstFreeVlan(s.purpose, used)
        yield {
          key: `vlan 1:${s.id}`,
          subjects: [s.id],
          text: `${s.name} is in VLAN 1, and the site's habit is to leave it empty.`,
          why:
            'Everything that nobody configured is in VLAN 1, a socket out of the box as well; ' +
            'whoever plugs in there would be in this segment.',
          fixes: [
            ...(vlan === null
              ? []
              : [
                  {
                    label: `Give ${s.name} VLAN ${vlan}`,
                    edits: [editCall('changeSegment', { id: s.id, changes: { vlanId: vlan } })],
                  },
                ]),
            {
              label: 'Use VLAN 1 on this site',
              edits: [editCall('changeSite', { preferences: { vlanOne: 'used' } })],
            },
          ],
        }
      }
      const own = s.subnet ? parsePrefix(s.subnet) : undefined
      const met = own ? usualCollisions(own) : []
      if (met.length > 0)
        yield {
          key: `usual numbers:${s.id}`,
          severity: 'note',
          subjects: [s.id],
          text: `${s.name} ${s.subnet} has the numbers of ${met[0]!.met}.`,
          why: 'Whoever connects by a tunnel from a place with the same numbers reaches their own network instead.',
          fixes: isBetterPlaced(model, s) ? moveToFreeSpace(model, s) : [],
        }
    }
  },
})
