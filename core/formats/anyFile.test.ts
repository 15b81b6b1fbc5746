import { expect, it } from 'vitest'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { quayside } from '../../tests/sites/quayside'
import { chanceOf, type Chance } from '../generator'
import { parsePlanText, runEdits, type SitePlan } from '../plan'
import { siteModel } from '../topology'
import { decodeText, formatOf, readable, readEquipmentCsv, readSightings, writable } from '.'

/** How many files each reader gets: some in every run, a million on demand (`./mast test fuzz`). */
const FILES = Number(process.env.MAST_FUZZ_FILES ?? 500)
const SEED = Number(process.env.MAST_FUZZ_SEED ?? 20_261_127)

const plans = [quayside(), dunlinSlipway()]
const samples = [
  ...plans.flatMap((plan) =>
    writable.flatMap((f) =>
      Object.values(f.write!({ model: siteModel(plan), serial: 1, utcOffset: 60 })),
    ),
  ),
  JSON.stringify({
    type: 'FeatureCollection',
    features: [
      {
        type: 'Feature',
        geometry: {
          type: 'LineString',
          coordinates: [
            [7.1, 51.2],
            [7.101, 51.2],
          ],
        },
        properties: { material: 'brick' },
      },
    ],
  }),
  'line;from;to;watched from\nHarbour fibre;2025-03-01 10:00;2025-03-01 14:00;2024-01-01\n',
]

/** What breaks readers: signs of each language, names of the language's own, ends of ranges. */
const POISON = [
  ...['\0', '\ud800', '\u202e', '\ufeff', '\r', '\n', '\t', '"', "'", ',', ';', '{', '}', '[', ']'],
  ...['__proto__', 'constructor', 'toString', '//', '/*', '#', '=cmd', '-1', '1e999', 'null', '%'],
  ...['999.1.1.1/99', '0.0.0.0/0', '255.255.255.255', '::/0', '10.0.0.1-10.0.0.0', '4294967296'],
  ...['"subnet": ', '&a [*a, *a]', '!!binary', '$ORIGIN .', 'dhcp-range=', '\u{1f600}'],
]
function spoilt(text: string, chance: Chance): string {
  let now = text
  for (let n = chance.between(1, 6); n > 0; n--) {
    const [a, b] = [chance.between(0, now.length), chance.between(0, now.length)].sort(
      (x, y) => x - y,
    ) as [number, number]
    const piece = now.slice(a, Math.min(b, a + 400))
    const how = chance.between(0, 5)
    if (how === 0) now = now.slice(0, a) + chance.one(POISON) + now.slice(a)
    else if (how === 1) now = now.slice(0, a) + now.slice(Math.min(b, a + 40))
    else if (how === 2) now = now.slice(0, a) + piece.repeat(chance.between(2, 12)) + now.slice(a)
    else if (how === 3) now = now.slice(0, a)
    else if (how === 4) {
      const other = chance.one(samples)
      const from = chance.between(0, other.length)
      now = now.slice(0, a) + other.slice(from, from + 300) + now.slice(a)
    } else now = now.slice(0, a) + chance.one(POISON).repeat(chance.between(1, 2000)) + now.slice(a)
  }
  return now.slice(0, 60_000)
}

/** Long enough for each file on a machine that has other things to do, ms. */
const LONGEST_MS = 60_000 + 20 * FILES

it(
  `${FILES} spoilt files: every reader says what it takes and what not, and never falls over`,
  () => {
    const chance = chanceOf(SEED)
    const said = { edits: 0, problems: 0, recognised: 0 }
    /** What readers give goes into the plan, or is refused with a reason. */
    const bring = (
      plan: SitePlan,
      reading: ReturnType<NonNullable<(typeof readable)[0]['read']>>,
    ) => {
      said.problems += reading.problems.length
      if (reading.edits.length === 0) return
      said.edits++
      const outcome = runEdits(plan, 'a file', reading.edits)
      if (!outcome.ok) expect(outcome.problems.length).toBeGreaterThan(0)
    }
    for (let n = 0; n < FILES; n++) {
      const plan = chance.one(plans)
      const whole = spoilt(chance.one(samples), chance)
      const octets = new TextEncoder().encode(whole)
      if (chance.between(0, 3) === 0)
        octets[chance.between(0, octets.length - 1)] = chance.between(128, 255)
      const decoded = decodeText(octets)
      const text = 'text' in decoded ? decoded.text : whole
      try {
        const format = formatOf('a-file.txt', text)
        if (format) said.recognised++
        bring(plan, (format ?? chance.one(readable)).read!(plan, text, 'a-file.txt'))
        const parsed = parsePlanText(text)
        if (!parsed.ok) expect(parsed.problems.length).toBeGreaterThan(0)
        readEquipmentCsv(text, plan)
        readSightings(text)
      } catch (error) {
        throw new Error(`file ${n} of seed ${SEED}: ${String(error)}\n${text.slice(0, 2000)}`, {
          cause: error,
        })
      }
    }
    expect(said.edits).toBeGreaterThan(FILES / 50)
    expect(said.problems).toBeGreaterThan(FILES / 10)
    expect(said.recognised).toBeGreaterThan(FILES / 10)
  },
  LONGEST_MS,
)
