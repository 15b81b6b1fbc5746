/** A plan in other forms. */
import { writeAddressCsv, writeEquipmentCsv, writeRunSheet } from '@mast/core/formats'
import type { SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { Unusable } from './check'
import type { Options, Outcome } from './main'

const formats: Record<string, { file: string; write(plan: SitePlan): string }> = {
  'json': { file: 'plan.json', write: (plan) => `${JSON.stringify(plan, null, 2)}\n` },
  'equipment-csv': { file: 'equipment.csv', write: writeEquipmentCsv },
  'address-csv': { file: 'addresses.csv', write: writeAddressCsv },
  'run-sheet': { file: 'run-sheet.md', write: (plan) => writeRunSheet(siteModel(plan)) },
}

export function exportPlan(plan: SitePlan, options: Options): Outcome {
  const format = formats[options.format ?? '']
  if (!format) throw new Unusable(`export needs --format; known are ${Object.keys(formats).join(', ')}`)
  const text = format.write(plan)
  return { status: 0, text: text.trimEnd(), json: { ok: true, file: format.file, content: text }, files: { [format.file]: text } }
}
