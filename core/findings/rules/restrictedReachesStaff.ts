/** C-49: guest, camera or device segments that reach staff, servers or the management plane. */
import type { SegmentPurpose } from '../../plan'
import { matrixOf } from '../../policy'
import { defineRule } from '../rule'

const restricted: readonly SegmentPurpose[] = ['guests', 'cameras', 'instruments', 'payments', 'voice']
const guarded: readonly SegmentPurpose[] = ['staff', 'servers', 'management', 'payments']

export default defineRule({
  id: 'policy/restricted-reaches-guarded',
  severity: 'blocker',
  catches: ['C-49'],
  title: 'A restricted segment reaches one that is to be guarded',
  sheet: 'policy',
  *check(model) {
    const matrix = matrixOf(model.plan)
    for (const from of model.segments.filter((s) => restricted.includes(s.purpose))) {
      const reached = model.segments.filter((to) => {
        if (to.id === from.id || to.purpose === from.purpose || !guarded.includes(to.purpose)) return false
        const cell = matrix.cell(from.id, to.id)!
        // A stated intent for single services (readings to a server) is a decision; everything open is an accident.
        return cell.verdict === 'all' || (cell.verdict === 'some' && (!cell.stated || to.purpose === 'management'))
      })
      if (reached.length === 0) continue
      const cells = reached.map((to) => matrix.cell(from.id, to.id)!)
      const open = cells.reduce((n, c) => n + c.services.filter((s) => s.allowed).length, 0)
      yield {
        subjects: [from.id, ...reached.map((s) => s.id)],
        text: `${from.name} reaches ${reached.map((s) => s.name).join(', ')}${cells.some((c) => !c.stated) ? ' because the site leaves open what no intent denies' : ''}.`,
        why: 'A guest or a hijacked camera would have the same way in as staff.',
        numbers: [{ label: 'open services', value: `${open} of ${cells.reduce((n, c) => n + c.services.length, 0)}`, how: `in ${cells.length} ${cells.length === 1 ? 'pair' : 'pairs'} of the grid` }],
        fixes: [{
          label: `Keep ${from.name} out of ${reached.map((s) => s.name).join(', ')}`,
          edits: [{ name: 'denyPairs', args: { from: from.id, to: reached.map((s) => s.id), reason: `${from.name} has no business there` } }],
        }],
      }
    }
  },
})
