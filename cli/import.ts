/**
 * What a file of another program says, brought into a plan. What cannot be used is told by line,
 * and the rest is brought in all the same.
 */
import {
  addressFormats,
  importOf,
  readAddressFile,
  readEquipmentCsv,
  type AddressFormat,
  type LineProblem,
} from '@mast/core/formats'
import { applyEdits, type EditCall, type SitePlan } from '@mast/core/plan'
import { Unusable } from './check'
import type { Options, Outcome } from './main'

interface Reading {
  readonly edits: readonly EditCall[]
  readonly problems: readonly LineProblem[]
  readonly said: string
}
type Reader = (text: string, plan: SitePlan, name: string) => Reading
const addresses =
  (format: AddressFormat): Reader =>
  (text, plan, name) => {
    const file = readAddressFile(format, name, text)
    const { edits, adds, changes, same, hosts, strangers, contradictions } = importOf(plan, file)
    return {
      edits,
      problems: [...file.problems, ...contradictions],
      said:
        `${adds} segments added, ${changes} changed, ${same} the same, ${hosts} addresses of ` +
        `devices, ${strangers.length} of nobody known`,
    }
  }
const readers: Record<string, Reader> = {
  ...Object.fromEntries(addressFormats.map((f) => [f, addresses(f)])),
  'equipment-csv': (text, plan) => {
    const { rows, problems } = readEquipmentCsv(text, plan)
    const devices = rows.flatMap((r) => (r.device ? [r.device] : []))
    return {
      edits: devices.length > 0 ? [{ name: 'addDevices', args: { devices } }] : [],
      problems,
      said: `${devices.length} of ${rows.length} rows imported`,
    }
  },
}

export function importInto(plan: SitePlan, options: Options): Outcome {
  const read = readers[options.format ?? '']
  if (!read)
    throw new Unusable(`import needs --format; known are ${Object.keys(readers).join(', ')}`)
  if (!options.input)
    throw new Unusable(
      'import needs the file to bring in: ./mast plan import PLAN FILE --format F [--out DIR]',
    )
  const { name, text } = options.input
  const { edits, problems, said } = read(text, plan, name)
  const next = applyEdits(plan, edits)
  const lines = problems.map((p) => `${name}:${p.line}:${p.column}: ${p.reason}`)
  return {
    status: problems.length > 0 ? 1 : 0,
    text: [...lines, said].join('\n'),
    json: { ok: true, said, problems, plan: next },
    files: { 'plan.json': `${JSON.stringify(next, null, 2)}\n` },
  }
}
