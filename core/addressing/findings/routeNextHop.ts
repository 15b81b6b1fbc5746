/** C-09: a route that leases tell, by a neighbour that is none. */
import { editCall } from '../../plan'
import { containsAddress, address, prefix } from '../../addressing'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'addressing/route-next-hop',
  severity: 'blocker',
  catches: ['C-09'],
  title: 'A route by somebody who is not on the link',
  sheet: 'addresses',
  reads: ['segments'],
  *check(model) {
    for (const s of model.segments) {
      if (!s.subnet) continue
      const wrong = s.options.routes.filter(
        (r) => !containsAddress(prefix(s.subnet!), address(r.via)),
      )
      if (wrong.length === 0) continue
      yield {
        subjects: [s.id],
        text:
          `Leases of ${s.name} tell of ${wrong.map((r) => `${r.to} by ${r.via}`).join(', ')}, ` +
          `which lies outside ${s.subnet}.`,
        why:
          'A host can hand packets only to a neighbour of its own subnet; it ignores such a ' +
          'route, or all of the option (RFC 3442).',
        fixes: [
          {
            label: wrong.length === 1 ? 'Leave the route out' : 'Leave these routes out',
            edits: [
              editCall('changeSegment', {
                id: s.id,
                changes: {
                  options: {
                    ...s.options,
                    routes: s.options.routes.filter((r) => !wrong.includes(r)),
                  },
                },
              }),
            ],
          },
        ],
      }
    }
  },
})
