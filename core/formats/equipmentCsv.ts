/**
 * The equipment list as CSV. Columns are mapped by their headings or by a person; every row is
 * kept: what is good can be imported, what is not is
 * shown with its line and its text as it stood.
 */
import {
  inPlan,
  editCall,
  catalogue,
  deviceSchema,
  idFor,
  idsOf,
  type NewDevice,
  type SitePlan,
} from '../plan'
import { serialComplaint } from '../survey'
import {
  columnKey,
  mapColumns,
  readCsv,
  unguardCell,
  writeCsv,
  type CsvProblem,
  type CsvRecord,
  type Mapping,
} from './csv'
import { defineFormat } from './format'

export const equipmentColumns = [
  'name',
  'profile',
  'serial',
  'hardware address',
  'firmware',
  'location',
] as const
export type EquipmentColumn = (typeof equipmentColumns)[number]

export interface EquipmentRow {
  readonly line: number
  readonly cells: readonly string[]
  readonly device: NewDevice | null
  readonly problems: readonly CsvProblem[]
}
export interface EquipmentCsv {
  readonly header: CsvRecord | null
  readonly mapping: Mapping<EquipmentColumn>
  readonly rows: readonly EquipmentRow[]
  readonly problems: readonly CsvProblem[]
  /** Columns that are left out. */
  readonly leftOut: readonly CsvProblem[]
}

const columns = {
  names: equipmentColumns,
  must: ['name', 'profile'],
  of: 'an equipment list',
  aliases: {
    mac: 'hardware address',
    'mac address': 'hardware address',
    'serial number': 'serial',
    'serial no': 'serial',
    model: 'profile',
    kind: 'profile',
    type: 'profile',
    device: 'name',
    'device name': 'name',
    place: 'location',
    room: 'location',
    version: 'firmware',
  },
} as const
const nowhere = Object.fromEntries(equipmentColumns.map((c) => [c, -1])) as Mapping<EquipmentColumn>

export function readEquipmentCsv(
  text: string,
  plan: SitePlan,
  chosen?: Mapping<EquipmentColumn>,
): EquipmentCsv {
  const { records, problems: broken } = readCsv(text)
  const [header, ...body] = records
  if (!header)
    return {
      header: null,
      mapping: nowhere,
      rows: [],
      leftOut: [],
      problems:
        broken.length > 0
          ? broken
          : [
              {
                line: 1,
                column: 1,
                reason: `the file is empty; the first line names the columns: ${equipmentColumns.join(', ')}`,
              },
            ],
    }
  const { mapping, problems, unknown } = mapColumns(header, columns, chosen)
  if (problems.length > 0 || broken.length > 0)
    return {
      header,
      mapping,
      rows: body.map((r) => ({ ...r, device: null, problems: [] })),
      leftOut: unknown,
      problems: [...broken, ...problems, ...unknown],
    }

  const known = profilesByName(plan)
  const places = new Map(
    Object.values(plan.locations).flatMap(
      (l) =>
        [
          [l.name.toLowerCase(), l.id],
          [l.id, l.id],
        ] as const,
    ),
  )
  const taken = {
    id: idsOf(plan),
    serial: valuesOf(plan, 'serial'),
    hardwareAddress: valuesOf(plan, 'hardwareAddress'),
    name: new Set(Object.values(plan.devices).map((d) => d.name.toLowerCase())),
  }
  const rows = body.map((record): EquipmentRow => {
    const found: CsvProblem[] = []
    const at = (c: EquipmentColumn): number => mapping[c]
    const cell = (c: EquipmentColumn): string =>
      at(c) < 0 ? '' : unguardCell(record.cells[at(c)] ?? '')
    const wrong = (c: EquipmentColumn, reason: string): void =>
      void found.push({ line: record.line, column: at(c) + 1, reason })
    if (record.cells.length > header.cells.length)
      found.push({
        line: record.line,
        column: header.cells.length + 1,
        reason: `${record.cells.length} cells where the header has ${header.cells.length}; is a comma unquoted?`,
      })
    const name = cell('name')
    if (!name) wrong('name', 'a name is needed')
    else if (name.length > 80)
      wrong('name', `the name has ${name.length} characters; up to 80 are kept`)
    else if (taken.name.has(name.toLowerCase()))
      wrong('name', `there is a device '${name}' already`)
    const profile = known.get(cell('profile').toLowerCase())
    if (!profile)
      wrong(
        'profile',
        `there is no profile '${cell('profile')}'; known are ` +
          `${[...new Set([...known.values()].map((p) => p.name))].join(', ')}`,
      )
    const serial = cell('serial').toUpperCase() || null
    const complaint = serial && profile ? serialComplaint(serial, profile.serialShape) : null
    if (serial && !deviceSchema.shape.serial.safeParse(serial).success)
      wrong('serial', `'${serial}' is not a serial: 3 to 32 letters, digits and hyphens`)
    else if (complaint) wrong('serial', complaint)
    else if (serial && taken.serial.has(serial))
      wrong('serial', `the serial ${serial} stands twice`)
    const hardwareAddress = normalHardwareAddress(cell('hardware address'))
    if (hardwareAddress === undefined)
      wrong(
        'hardware address',
        `'${cell('hardware address')}' is not a hardware address; expected for example 02:00:5e:10:00:01`,
      )
    else if (hardwareAddress && taken.hardwareAddress.has(hardwareAddress))
      wrong('hardware address', `the hardware address ${hardwareAddress} stands twice`)
    const firmware = cell('firmware')
    if (firmware.length > 20)
      wrong('firmware', `'${firmware.slice(0, 20)}...' is longer than a firmware version`)
    const place = cell('location')
    const locationId = place ? places.get(place.toLowerCase()) : undefined
    if (place && !locationId)
      wrong('location', `there is no location '${place}'; add it first, or leave the cell empty`)
    if (found.length > 0) return { ...record, device: null, problems: found }
    const id = idFor(name, taken.id)
    taken.id.add(id)
    taken.name.add(name.toLowerCase())
    if (serial) taken.serial.add(serial)
    if (hardwareAddress) taken.hardwareAddress.add(hardwareAddress)
    return {
      ...record,
      problems: [],
      device: {
        id,
        name,
        profileId: profile!.id,
        serial,
        hardwareAddress: hardwareAddress ?? null,
        firmware: firmware || null,
        locationId: locationId ?? null,
      },
    }
  })
  return { header, mapping, rows, leftOut: unknown, problems: rows.flatMap((r) => r.problems) }
}

const valuesOf = (plan: SitePlan, field: 'serial' | 'hardwareAddress'): Set<string> =>
  new Set(Object.values(plan.devices).flatMap((d) => d[field] ?? []))
const profilesByName = (plan: SitePlan): Map<string, SitePlan['profiles'][string]> =>
  new Map(
    [...Object.values(catalogue), ...Object.values(plan.profiles)].flatMap(
      (p) =>
        [
          [p.id, p],
          [p.name.toLowerCase(), p],
        ] as const,
    ),
  )

/** Colons, hyphens, dots or nothing between; null for an empty cell, undefined for what is none. */
export function normalHardwareAddress(text: string): string | null | undefined {
  if (!text) return null
  const digits = text.toLowerCase().replace(/[:.-]/g, '')
  return /^[0-9a-f]{12}$/.test(digits) ? digits.match(/../g)!.join(':') : undefined
}

export function writeEquipmentCsv(plan: SitePlan): string {
  return writeCsv(
    equipmentColumns,
    Object.values(plan.devices).map((d) => [
      d.name,
      inPlan(plan.profiles, d.profileId).name,
      d.serial,
      d.hardwareAddress,
      d.firmware,
      d.locationId ? inPlan(plan.locations, d.locationId).name : null,
    ]),
  )
}

export const equipmentCsv = defineFormat({
  id: 'equipment-csv',
  title: 'Equipment (CSV)',
  sheet: 'survey',
  files: 'equipment.csv',
  mediaType: 'text/csv',
  looksLike: (_, text) => {
    const header = readCsv(text.slice(0, 2000)).records[0]?.cells.map(columnKey) ?? []
    return header.includes('profile') || header.includes('serial')
  },
  read(plan, text) {
    const { rows, problems } = readEquipmentCsv(text, plan)
    const devices = rows.flatMap((r) => (r.device ? [r.device] : []))
    return {
      edits: devices.length > 0 ? [editCall('addDevices', { devices })] : [],
      said: `${devices.length} of ${rows.length} rows can be imported`,
      problems,
      leftOut: [],
      newcomers: [],
    }
  },
  write: ({ model }) => ({ 'equipment.csv': writeEquipmentCsv(model.plan) }),
})
