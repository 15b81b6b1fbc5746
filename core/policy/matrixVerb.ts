/** Who reaches whom, as a table. */
import { placeName } from '../plan'
import { cellWords, matrixOf, type MatrixCell } from './matrix'
import { defineVerb } from '../verbs/verb'

export const matrix = defineVerb({
  name: 'matrix',
  usage: 'FILE [--json]',
  about: 'who reaches whom',
  run(plan) {
    const m = matrixOf(plan)
    const label = (place: string): string =>
      place === 'internet' ? 'internet' : placeName(plan, place)
    const words = (c: MatrixCell | undefined): string =>
      !c ? '.' : c.verdict === 'all' ? 'all' : c.verdict === 'none' ? '-' : cellWords(plan, c)
    const rows = [
      ['from \\ to', ...m.places.map(label)],
      ...m.sources.map((from) => [label(from), ...m.places.map((to) => words(m.cell(from, to)))]),
    ]
    const widths = rows[0]!.map((_, i) => Math.max(...rows.map((r) => r[i]!.length)))
    return {
      status: 0,
      text: rows
        .map((r) =>
          r
            .map((c, i) => c.padEnd(widths[i]!))
            .join('  ')
            .trimEnd(),
        )
        .join('\n'),
      json: { ok: true, places: m.places.map((id) => ({ id, name: label(id) })), cells: m.cells },
    }
  },
})
