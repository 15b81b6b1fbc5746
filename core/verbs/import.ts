/**
 * What a file of another program says, brought into a plan. What cannot be used is told by line,
 * and the rest is brought in all the same.
 */
import { formatById, formatOf, readable } from '../formats'
import { applyEdits } from '../plan'
import { defineVerb, Unusable } from './verb'

export const importVerb = defineVerb({
  name: 'import',
  usage: 'FILE OTHER [--format F] [--out DIR] [--json]',
  about: 'what a file says, brought into a plan',
  run(plan, options) {
    const known = `known are ${readable.map((f) => f.id).join(', ')}`
    const { format: id, input } = options
    if (id !== undefined && !formatById(id)?.read)
      throw new Unusable(`there is no format '${id}' to read; ${known}`)
    if (!input)
      throw new Unusable(
        'import needs the file to bring in: ./mast plan import PLAN FILE [--format F] [--out DIR]',
      )
    const { name, text } = input
    const format = id === undefined ? formatOf(name, text) : formatById(id)
    if (!format) throw new Unusable(`${name} is of no format that can be read; ${known}`)
    const { edits, problems, newcomers, said } = format.read!(plan, text, name)
    const next = applyEdits(plan, edits)
    const lines = [...problems, ...newcomers].map(
      (p) => `${name}:${p.line}:${p.column}: ${p.reason}`,
    )
    return {
      status: problems.length > 0 ? 1 : 0,
      text: [...lines, `${format.title}: ${said}`].join('\n'),
      json: { ok: true, format: format.id, said, problems, newcomers, plan: next },
      files: { 'plan.json': `${JSON.stringify(next, null, 2)}\n` },
    }
  },
})
