/** C-49: guest, camera or device segments that reach staff, servers or the management plane. */
import { selected } from '../../remember'
import { editCall, type Segment, type SegmentPurpose } from '../../plan'
import { isOpen, matrixOf, type Matrix } from '../../policy'
import { defineRule } from '../../findings/rule'
import { DECIDES_BY } from '../decidesBy'
import type { SiteModel } from '../../topology'

const restricted: readonly SegmentPurpose[] = [
  'guests',
  'cameras',
  'instruments',
  'payments',
  'voice',
]
const guarded: readonly SegmentPurpose[] = ['staff', 'servers', 'management', 'payments']

interface Reach {
  readonly from: string
  readonly to: readonly string[]
  readonly open: number
  readonly services: number
  readonly isUnstated: boolean
}
/**
 * What restricted segments reach; kept with the matrix, which knows the purposes too and outlives
 * edits of anything else.
 */
const reachesOf = selected(
  ({ plan }: SiteModel) => [matrixOf(plan)],
  ({ plan, segments }) => reachesIn(matrixOf(plan), segments),
)
function reachesIn(matrix: Matrix, segments: readonly Segment[]): readonly Reach[] {
  return segments
    .filter((s) => restricted.includes(s.purpose))
    .flatMap((from): Reach[] => {
      const cells = segments
        .filter(
          (to) => to.id !== from.id && to.purpose !== from.purpose && guarded.includes(to.purpose),
        )
        .flatMap((to) => {
          const cell = matrix.cell(from.id, to.id)!
          // A stated intent for single services (readings to a server) is a decision; everything
          // open is an accident.
          return cell.verdict === 'all' ||
            (cell.verdict === 'some' && (!cell.stated || to.purpose === 'management'))
            ? [cell]
            : []
        })
      const open = cells.reduce((n, c) => n + c.services.filter(isOpen).length, 0)
      return cells.length === 0
        ? []
        : [
            {
              from: from.id,
              to: cells.map((c) => c.to),
              open,
              services: cells.reduce((n, c) => n + c.services.length, 0),
              isUnstated: cells.some((c) => !c.stated),
            },
          ]
    })
}

export default defineRule({
  id: 'policy/restricted-reaches-guarded',
  severity: 'blocker',
  catches: ['C-49'],
  title: 'A restricted segment reaches one that is to be guarded',
  sheet: 'policy',
  reads: DECIDES_BY,
  *check(model) {
    const name = (id: string): string => model.segment(id).name
    for (const { from, to, open, services, isUnstated } of reachesOf(model)) {
      const names = to.map(name).join(', ')
      yield {
        key: from,
        subjects: [from, ...to],
        text:
          `${name(from)} reaches ` +
          `${names}${isUnstated ? ' because the site leaves open what no intent denies' : ''}.`,
        why: 'A guest or a hijacked camera would have the same way in as staff.',
        numbers: [
          {
            label: 'open services',
            value: `${open} of ${services}`,
            how: `in ${to.length} ${to.length === 1 ? 'pair' : 'pairs'} of the grid`,
          },
        ],
        fixes: [
          {
            label: `Keep ${name(from)} out of ${names}`,
            edits: [
              editCall('denyPairs', {
                from,
                to: [...to],
                reason: `${name(from)} has no business there`,
              }),
            ],
          },
        ],
      }
    }
  },
})
