/** C-25: what all lines lie on, and what takes them all at once. */
import { defineRule } from '../../findings/rule'
import { linesInUse, partId, partName } from '../failover/siteOutlook'

export default defineRule({
  id: 'uplinks/shared-parts',
  severity: 'caution',
  catches: ['C-25'],
  title: 'The lines share a part',
  sheet: 'uplinks',
  reads: ['uplinks'],
  *check(model) {
    const lines = linesInUse(model)
    const [first, ...others] = lines
    if (!first || others.length === 0) return
    const names = lines.map((u) => u.name).join(' and ')
    for (const part of first.parts) {
      const id = partId(part)
      if (others.every((u) => u.parts.some((p) => partId(p) === id)))
        yield {
          key: id,
          subjects: lines.map((u) => u.id),
          text: `${names} ${lines.length === 2 ? 'both' : 'all'} depend on the ${partName(part)}.`,
          why: 'When it goes, all of them go, and no setting of the failover helps.',
          fixes: [],
        }
    }
  },
})
