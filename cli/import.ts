/** What a file of another program says, brought into a plan. What cannot be used is told by line, and the rest is brought in all the same. */
import { importOf, readAddressCsv, readDnsmasq, readEquipmentCsv, readKea, type LineProblem } from '@mast/core/formats'
import { applyEdits, type EditCall, type SitePlan } from '@mast/core/plan'
import { Unusable } from './check'
import type { Options, Outcome } from './main'

interface Reading { readonly edits: readonly EditCall[]; readonly problems: readonly LineProblem[]; readonly said: string }
const addresses = (read: typeof readKea) => (text: string, plan: SitePlan): Reading => {
  const file = read(text)
  const { edits, adds, changes, same, reservations, strangers } = importOf(plan, file)
  return { edits, problems: file.problems, said: `${adds} segments added, ${changes} changed, ${same} the same, ${reservations} reservations, ${strangers.length} of nobody known` }
}
const readers: Record<string, (text: string, plan: SitePlan) => Reading> = {
  'address-csv': addresses(readAddressCsv), 'kea': addresses(readKea), 'dnsmasq': addresses(readDnsmasq),
  'equipment-csv': (text, plan) => {
    const { rows, problems } = readEquipmentCsv(text, plan)
    const devices = rows.flatMap((r) => (r.device ? [r.device] : []))
    return { edits: devices.length > 0 ? [{ name: 'addDevices', args: { devices } }] : [], problems, said: `${devices.length} of ${rows.length} rows imported` }
  },
}

export function importInto(plan: SitePlan, options: Options): Outcome {
  const read = readers[options.format ?? '']
  if (!read) throw new Unusable(`import needs --format; known are ${Object.keys(readers).join(', ')}`)
  if (!options.input) throw new Unusable('import needs the file to bring in: ./mast plan import PLAN FILE --format F [--out DIR]')
  const { name, text } = options.input
  const { edits, problems, said } = read(text, plan)
  const next = applyEdits(plan, edits)
  const lines = problems.map((p) => `${name}:${p.line}:${p.column}: ${p.reason}`)
  return { status: problems.length > 0 ? 1 : 0, text: [...lines, said].join('\n'), json: { ok: true, said, problems, plan: next }, files: { 'plan.json': `${JSON.stringify(next, null, 2)}\n` } }
}
