/** Levels read while walking: a table of places on a plan, what was heard there, and how well. */
import {
  editCall,
  MOST_READINGS,
  idFor,
  idsOf,
  type Device,
  type Floor,
  type SitePlan,
} from '../plan'
import { bands, type Band } from '../radio/bands'
import { levelOf } from '../radio/decibels'
import { headingKeys, mapColumns, readCsv, unguardCell, type Columns } from './csv'
import { defineFormat, type LineProblem, type Reading } from './format'

const columns: Columns<'x' | 'y' | 'signal' | 'access point' | 'band' | 'plan'> = {
  names: ['x', 'y', 'signal', 'access point', 'band', 'plan'],
  aliases: {
    rssi: 'signal',
    dbm: 'signal',
    level: 'signal',
    ap: 'access point',
    device: 'access point',
    floor: 'plan',
  },
  must: ['x', 'y', 'signal', 'access point'],
  of: 'readings',
}

export function readWalk(plan: SitePlan, text: string): Reading {
  const { records, problems } = readCsv(text)
  const nothing = (more: readonly LineProblem[]): Reading => ({
    ...{ edits: [], said: 'nothing', leftOut: [], newcomers: [] },
    problems: [...problems, ...more],
  })
  const [header, ...rows] = records
  if (!header) return nothing([{ line: 1, column: 1, reason: 'the file is empty' }])
  const { mapping, problems: missing, unknown } = mapColumns(header, columns)
  if (missing.length > 0) return nothing(missing)
  const all = Object.values(plan.floors)
  if (all.length === 0)
    return nothing([
      { line: 1, column: 1, reason: 'there is no plan of the place yet; add one first' },
    ])
  const wrong: LineProblem[] = [...problems]
  interface Walk {
    readonly floor: Floor
    readonly device: Device
    readonly band: Band
    readonly readings: { x: number; y: number; dbm: number }[]
  }
  const walks = new Map<string, Walk>()
  for (const { line, cells } of rows) {
    const cell = (c: (typeof columns.names)[number]): string =>
      mapping[c] < 0 ? '' : unguardCell(cells[mapping[c]] ?? '').trim()
    const no = (c: (typeof columns.names)[number], reason: string): void =>
      void wrong.push({ line, column: mapping[c] + 1, reason })
    const isNamed = (thing: { id: string; name: string }, text_: string): boolean =>
      thing.id === text_ || thing.name.toLowerCase() === text_.toLowerCase()
    const number = (c: 'x' | 'y'): number | null => {
      const n = cell(c) === '' ? NaN : Number(cell(c).replace(',', '.'))
      return Number.isFinite(n) ? n : null
    }
    const device = Object.values(plan.devices).find((d) => isNamed(d, cell('access point')))
    const floor =
      cell('plan') === ''
        ? (all.find((f) => f.id === device?.place?.floorId) ??
          (all.length === 1 ? all[0] : undefined))
        : all.find((f) => isNamed(f, cell('plan')))
    const [x, y] = [number('x'), number('y')]
    const signal = /^(-?\d+(?:[.,]\d+)?) ?(%|dbm)?$/i.exec(cell('signal'))
    const band = cell('band') === '' ? '5' : bands.find((b) => cell('band').startsWith(b))
    if (!device) no('access point', `there is no device '${cell('access point')}'`)
    else if (!floor)
      no(
        'plan',
        cell('plan') ? `there is no plan '${cell('plan')}'` : 'say on which plan of the place',
      )
    else if (x === null) no('x', `'${cell('x')}' is no number of metres`)
    else if (y === null) no('y', `'${cell('y')}' is no number of metres`)
    else if (x < 0 || y < 0 || x > floor.widthM || y > floor.depthM)
      no(
        'x',
        `${x}, ${y} m lies outside ${floor.name}, which is ${floor.widthM} x ${floor.depthM} m`,
      )
    else if (!band) no('band', `'${cell('band')}' is no band; known are 2.4, 5 and 6`)
    else if (!signal)
      no('signal', `'${cell('signal')}' is no level; expected for example -67 or 66 %`)
    else {
      const value = Number(signal[1]!.replace(',', '.'))
      const dbm = Math.min(
        0,
        Math.max(-120, signal[2] === '%' || value > 0 ? levelOf(value) : value),
      )
      const key = `${floor.id} ${device.id} ${band}`
      const walk = walks.get(key) ?? { floor, device, band, readings: [] }
      walk.readings.push({ x, y, dbm })
      walks.set(key, walk)
    }
  }
  const taken = idsOf(plan)
  const edits = [...walks.values()].flatMap(({ floor, device, band, readings }) =>
    Array.from({ length: Math.ceil(readings.length / MOST_READINGS) }, (_, n) => {
      const id = idFor('walk', taken)
      taken.add(id)
      return editCall('addWalk', {
        ...{ id, floorId: floor.id, deviceId: device.id, band },
        readings: readings.slice(n * MOST_READINGS, (n + 1) * MOST_READINGS),
      })
    }),
  )
  const count = [...walks.values()].reduce((sum, w) => sum + w.readings.length, 0)
  return {
    edits,
    said:
      count === 0
        ? 'nothing'
        : `${count} readings of ${[...new Set([...walks.values()].map((w) => w.device.name))].join(', ')}`,
    problems: wrong,
    leftOut: unknown,
    newcomers: [],
  }
}

export const walkCsv = defineFormat({
  id: 'walk-csv',
  title: 'readings walked (CSV)',
  sheet: 'wifi',
  files: 'a table with the columns x, y, signal, access point; also band and plan',
  mediaType: 'text/csv',
  looksLike: (_, text) => {
    const keys = headingKeys(text)
    return keys.includes('x') && keys.includes('y')
  },
  read: (plan, text) => readWalk(plan, text),
})
