/**
 * The equipment list as CSV (RFC 4180). Reading says which line and column is wrong and keeps every row: what is good can be imported,
 * what is not is shown with its text as it stood. Writing guards cells that a spreadsheet would take for a formula.
 */
import Papa from 'papaparse'
import { catalogue, deviceSchema, type NewDevice, type SitePlan } from '../plan'

export const equipmentColumns = ['name', 'profile', 'serial', 'hardware address', 'firmware', 'location'] as const
type Column = (typeof equipmentColumns)[number]

export interface CsvProblem { readonly line: number; readonly column: number; readonly reason: string }
export interface EquipmentRow { readonly line: number; readonly cells: readonly string[]; readonly device: NewDevice | null; readonly problems: readonly CsvProblem[] }
export interface EquipmentCsv { readonly rows: readonly EquipmentRow[]; readonly problems: readonly CsvProblem[] }

export const MAX_CSV_BYTES = 1_000_000

const aliases: Record<string, Column> = { 'mac': 'hardware address', 'mac address': 'hardware address', 'serial number': 'serial', 'model': 'profile', 'device': 'name' }

/** `makeId` gives an id for a name that is not among those taken. */
export function readEquipmentCsv(text: string, plan: SitePlan): EquipmentCsv {
  if (text.length > MAX_CSV_BYTES) return { rows: [], problems: [{ line: 1, column: 1, reason: `the file is larger than ${MAX_CSV_BYTES / 1e6} MB; split it` }] }
  const records = readRecords(text.replace(/^\uFEFF/, ''))
  const header = records.shift()
  if (!header) return { rows: [], problems: [{ line: 1, column: 1, reason: `the file is empty; the first line names the columns: ${equipmentColumns.join(', ')}` }] }
  const problems: CsvProblem[] = []
  const columns = header.cells.map((cell, i): Column | undefined => {
    const key = cell.trim().toLowerCase().replace(/_/g, ' ')
    const column = (equipmentColumns as readonly string[]).includes(key) ? (key as Column) : aliases[key]
    if (!column && key) problems.push({ line: header.line, column: i + 1, reason: `'${cell.trim()}' is not a column of an equipment list; known are ${equipmentColumns.join(', ')}` })
    return column
  })
  for (const must of ['name', 'profile'] as const)
    if (!columns.includes(must)) problems.push({ line: header.line, column: 1, reason: `the column '${must}' is missing` })
  if (problems.length > 0) return { rows: records.map((r) => ({ ...r, device: null, problems: [] })), problems }

  const taken = { id: new Set(Object.keys(plan.devices)), serial: valuesOf(plan, 'serial'), hardwareAddress: valuesOf(plan, 'hardwareAddress'), name: new Set(Object.values(plan.devices).map((d) => d.name.toLowerCase())) }
  const rows = records.map((record): EquipmentRow => {
    const found: CsvProblem[] = []
    const at = (c: Column): number => columns.indexOf(c)
    const cell = (c: Column): string => (at(c) < 0 ? '' : (record.cells[at(c)] ?? '').trim().replace(/^'(?=[=+\-@])/, ''))
    const wrong = (c: Column, reason: string): void => void found.push({ line: record.line, column: at(c) + 1, reason })
    if (record.cells.length > columns.length) found.push({ line: record.line, column: columns.length + 1, reason: `${record.cells.length} cells where the header has ${columns.length}; is a comma unquoted?` })
    const name = cell('name')
    if (!name) wrong('name', 'a name is needed')
    else if (taken.name.has(name.toLowerCase())) wrong('name', `there is a device '${name}' already`)
    const profile = profileFor(cell('profile'), plan)
    if (!profile) wrong('profile', `there is no profile '${cell('profile')}'; known are ${Object.values(catalogue).map((p) => p.name).join(', ')}`)
    const serial = cell('serial').toUpperCase() || null
    if (serial && !deviceSchema.shape.serial.safeParse(serial).success) wrong('serial', `'${serial}' is not a serial: 3 to 32 letters, digits and hyphens`)
    else if (serial && taken.serial.has(serial)) wrong('serial', `the serial ${serial} stands twice`)
    const hardwareAddress = normalHardwareAddress(cell('hardware address'))
    if (hardwareAddress === undefined) wrong('hardware address', `'${cell('hardware address')}' is not a hardware address; expected for example 02:00:5e:10:00:01`)
    else if (hardwareAddress && taken.hardwareAddress.has(hardwareAddress)) wrong('hardware address', `the hardware address ${hardwareAddress} stands twice`)
    const place = cell('location')
    const location = place ? Object.values(plan.locations).find((l) => l.name.toLowerCase() === place.toLowerCase() || l.id === place) : undefined
    if (place && !location) wrong('location', `there is no location '${place}'; add it first, or leave the cell empty`)
    if (found.length > 0) return { ...record, device: null, problems: found }
    const id = idFor(name, taken.id)
    taken.id.add(id)
    taken.name.add(name.toLowerCase())
    if (serial) taken.serial.add(serial)
    if (hardwareAddress) taken.hardwareAddress.add(hardwareAddress)
    return { ...record, problems: [], device: { id, name, profileId: profile!, serial, hardwareAddress: hardwareAddress ?? null, firmware: cell('firmware') || null, locationId: location?.id ?? null } }
  })
  return { rows, problems: rows.flatMap((r) => r.problems) }
}

const valuesOf = (plan: SitePlan, field: 'serial' | 'hardwareAddress'): Set<string> => new Set(Object.values(plan.devices).flatMap((d) => d[field] ?? []))

/** Records with the line that each starts on; a quoted cell may span lines. */
function readRecords(text: string): { line: number; cells: string[] }[] {
  const records: { line: number; cells: string[] }[] = []
  let start = 0
  let line = 1
  Papa.parse<string[]>(text, {
    skipEmptyLines: false,
    step({ data, meta }) {
      if (data.some((c) => c.trim() !== '')) records.push({ line, cells: data })
      for (let i = start; i < meta.cursor; i++) if (text[i] === '\n') line++
      start = meta.cursor
    },
  })
  return records
}

function profileFor(text: string, plan: SitePlan): string | undefined {
  const wanted = text.toLowerCase()
  return [...Object.values(plan.profiles), ...Object.values(catalogue)].find((p) => p.id === wanted || p.name.toLowerCase() === wanted)?.id
}

/** Colons, hyphens, dots or nothing between; null for an empty cell, undefined for what is none. */
export function normalHardwareAddress(text: string): string | null | undefined {
  if (!text) return null
  const digits = text.toLowerCase().replace(/[:.-]/g, '')
  return /^[0-9a-f]{12}$/.test(digits) ? digits.match(/../g)!.join(':') : undefined
}

/** A readable id from a name that is not taken: "Quay AP 1" -> `quay-ap-1`. */
export function idFor(name: string, taken: { has(id: string): boolean }): string {
  const plain = name.normalize('NFKD').toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-+|-+$/g, '').slice(0, 40).replace(/-$/, '')
  const base = /^[a-z]/.test(plain) ? plain : `d-${plain}`.replace(/-$/, '')
  if (!taken.has(base)) return base
  let n = 2
  while (taken.has(`${base}-${n}`)) n++
  return `${base}-${n}`
}

/** A cell that starts like a formula gets an apostrophe, which reading takes off again. */
export const guardCell = (cell: string): string => (/^[=+\-@\t\r]/.test(cell) ? `'${cell}` : cell)

export function writeCsv(header: readonly string[], rows: readonly (readonly (string | number | null)[])[]): string {
  const cells = [header, ...rows].map((row) => row.map((c) => (c === null ? '' : typeof c === 'number' ? String(c) : guardCell(c))))
  return Papa.unparse(cells as string[][], { newline: '\r\n' }) + '\r\n'
}

export function writeEquipmentCsv(plan: SitePlan): string {
  return writeCsv(equipmentColumns, Object.values(plan.devices).map((d) => [
    d.name, plan.profiles[d.profileId]!.name, d.serial, d.hardwareAddress, d.firmware, d.locationId ? plan.locations[d.locationId]!.name : null,
  ]))
}
