/** A plan in other forms. */
import {
  writeAddressCsv,
  writeCsv,
  writeDnsmasqFiles,
  writeEquipmentCsv,
  writeKeaFiles,
  writeNetplan,
  writeNftables,
  writeRunSheet,
  writeZones,
} from '@mast/core/formats'
import { utcOffsetMinutes, type SitePlan } from '@mast/core/plan'
import { billOfMaterials } from '@mast/core/survey'
import { siteModel } from '@mast/core/topology'
import { Unusable } from './check'
import type { Options, Outcome } from './main'

type Files = Record<string, string>
/**
 * The serial of zones written without a server: the program has no clock of its own, so a file that
 * is loaded again needs its number raised.
 */
const FIRST_SERIAL = 1

const formats: Record<string, (plan: SitePlan) => Files> = {
  json: (plan) => ({ 'plan.json': `${JSON.stringify(plan, null, 2)}\n` }),
  'equipment-csv': (plan) => ({ 'equipment.csv': writeEquipmentCsv(plan) }),
  'address-csv': (plan) => ({ 'addresses.csv': writeAddressCsv(plan) }),
  'materials-csv': (plan) => ({
    'materials.csv': writeCsv(
      ['group', 'what', 'count', 'length m', 'for'],
      billOfMaterials(siteModel(plan)).map((l) => [
        l.group,
        l.what,
        l.count,
        l.lengthM,
        l.runs.join('; '),
      ]),
    ),
  }),
  kea: (plan) => writeKeaFiles(siteModel(plan)),
  dnsmasq: (plan) => writeDnsmasqFiles(siteModel(plan)),
  zones: (plan) =>
    Object.fromEntries(
      Object.entries(writeZones(siteModel(plan), FIRST_SERIAL)).map(([zone, text]) => [
        `${zone}.zone`,
        text,
      ]),
    ),
  netplan: (plan) => writeNetplan(siteModel(plan)),
  nftables: (plan) => ({
    'rules.nft': writeNftables(plan, {
      utcOffset: utcOffsetMinutes(plan.site.timeZone, new Date()),
    }),
  }),
  'run-sheet': (plan) => ({ 'run-sheet.md': writeRunSheet(siteModel(plan)) }),
}

export function exportPlan(plan: SitePlan, options: Options): Outcome {
  const write = formats[options.format ?? '']
  if (!write)
    throw new Unusable(`export needs --format; known are ${Object.keys(formats).join(', ')}`)
  const files = write(plan)
  const [first, ...others] = Object.entries(files)
  if (!first)
    throw new Unusable(
      options.format === 'zones'
        ? 'the site has no domain, so its hosts have no names'
        : 'there is nothing of the plan to write in this format',
    )
  const text =
    others.length === 0
      ? first[1]
      : Object.entries(files)
          .map(([name, content]) => `# ${name}\n${content}`)
          .join('\n')
  return {
    status: 0,
    text: text.trimEnd(),
    json: { ok: true, file: first[0], content: first[1], ...(others.length > 0 ? { files } : {}) },
    files,
  }
}
