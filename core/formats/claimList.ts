/** A list of devices to claim: a table with a column of serials, or serials alone, one in a line. */
import type { ClaimRow } from '../adoption'
import { columnKey, readCsv, unguardCell } from './csv'
import { normalHardwareAddress } from './equipmentCsv'
import type { LineProblem } from './format'

export interface ClaimListFile {
  readonly rows: readonly ClaimRow[]
  readonly problems: readonly LineProblem[]
}

const headings = {
  serial: ['serial', 'serial number', 's/n', 'sn'],
  model: ['model', 'profile', 'kind'],
  hardware: ['hwaddr', 'mac', 'mac address', 'hardware address'],
} as const

/** A table with a column of serials, or serials alone, one in a line. */
export function readClaimList(text: string): ClaimListFile {
  const { records, problems } = readCsv(text.replace(/^\uFEFF/, ''))
  const [first] = records
  if (!first) return { rows: [], problems: [...problems, problem(1, 'the file is empty')] }
  const column = (of: keyof typeof headings): number =>
    first.cells.findIndex((c) => (headings[of] as readonly string[]).includes(columnKey(c)))
  const [serial, model, hardware] = [column('serial'), column('model'), column('hardware')]
  if (serial < 0 && first.cells.length > 1)
    return {
      rows: [],
      problems: [
        ...problems,
        problem(first.line, "it has no column 'serial'; known headings are serial, model, mac"),
      ],
    }
  const cell = (cells: readonly string[], at: number): string | null =>
    at >= 0 ? unguardCell(cells[at] ?? '').trim() || null : null
  const rows = (serial < 0 ? records : records.slice(1)).map(({ line, cells }): ClaimRow => {
    const address = cell(cells, hardware)
    const said = (cell(cells, Math.max(0, serial)) ?? '').toUpperCase()
    return {
      line,
      serial: said,
      serialAsAddress: normalHardwareAddress(said) ?? null,
      model: cell(cells, model),
      hardwareAddress: address === null ? null : (normalHardwareAddress(address) ?? address),
    }
  })
  return { rows: rows.filter((r) => r.serial !== ''), problems }
}
const problem = (line: number, reason: string): LineProblem => ({ line, column: 1, reason })
