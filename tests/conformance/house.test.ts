/**
 * Adding a kind, a rule, a format, a discipline, a sheet and a fault, as docs/architecture.md says: a
 * copy of the sources gets a toy of each, by a file and its place in a list and nothing else, and
 * every one is then looked for everywhere it should be.
 */
import { spawnSync } from 'node:child_process'
import {
  cpSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'

const here = process.cwd()
const copy = mkdtempSync(join(tmpdir(), 'able-mast-house-'))
afterAll(() => rmSync(copy, { recursive: true, force: true }))

const OWN = ['api', 'core', 'protocol', 'standins']
const add = (file: string, text: string): void => {
  mkdirSync(dirname(join(copy, file)), { recursive: true })
  writeFileSync(join(copy, file), text)
}
/** Gives something its place in a list: an import, and its name after another one. */
function list(file: string, name: string, from: string, after: string): void {
  const text = readFileSync(join(copy, file), 'utf8')
  const entry = text.lastIndexOf(`  ${after},\n`)
  expect(entry, `${after} in ${file}`).toBeGreaterThan(0)
  const at = entry + `  ${after},\n`.length
  const first = text.indexOf('import ')
  add(
    file,
    `${text.slice(0, first)}import { ${name} } from '${from}'\n` +
      `${text.slice(first, at)}  ${name},\n${text.slice(at)}`,
  )
}
/** What a program in the copy prints, as JSON. */
function told<T>(program: string): T {
  add('ask.ts', program)
  const done = spawnSync(process.execPath, ['--import', 'tsx', 'ask.ts'], {
    cwd: copy,
    encoding: 'utf8',
  })
  if (done.status !== 0) throw new Error(done.stderr)
  return JSON.parse(done.stdout) as T
}

beforeAll(() => {
  for (const folder of [...OWN, 'cli', 'docs', 'demo', 'tests/sites'])
    cpSync(join(here, folder), join(copy, folder), { recursive: true })
  for (const file of ['package.json', 'tsconfig.json', 'tsconfig.core.json', 'scripts'])
    cpSync(join(here, file), join(copy, file), { recursive: true })
  mkdirSync(join(copy, 'node_modules/@mast'), { recursive: true })
  for (const name of readdirSync(join(here, 'node_modules')))
    if (name !== '@mast')
      symlinkSync(join(here, 'node_modules', name), join(copy, 'node_modules', name))
  for (const name of OWN) symlinkSync(join(copy, name), join(copy, 'node_modules/@mast', name))

  add(
    'core/plan/kinds/buoy.ts',
    `import { z } from 'zod'
import { defineKind } from './kind'
import { idSchema, nameSchema } from '../values'

export const buoys = defineKind({
  collection: 'buoys',
  noun: 'Buoy',
  word: 'buoy',
  plural: 'buoys',
  schema: z.strictObject({
    id: idSchema,
    name: nameSchema,
    chainM: z.number(),
    locationId: idSchema.nullable(),
    deviceIds: z.array(idSchema),
  }),
  most: 3,
  blank: { chainM: 12, locationId: null, deviceIds: [] },
  isOneStatement: true,
  fieldWords: { chainM: 'chain, m' },
  references: [
    { at: 'locationId', to: ['locations'], whenGone: 'remove' },
    { at: 'deviceIds.*', to: ['devices'], whenGone: 'drop' },
  ],
  inAnotherSite: () => null,
})
`,
  )
  list('core/plan/kinds/index.ts', 'buoys', './buoy', 'knownNetworks')
  add(
    'core/formats/tide.ts',
    `import { defineFormat } from './format'
export const tide = defineFormat({
  id: 'tide',
  title: 'Tide table',
  sheet: 'tides',
  files: 'tide.txt',
  mediaType: 'text/plain',
  looksLike: (_, text) => text.startsWith('high water'),
  read: () => ({ edits: [], said: 'one tide', problems: [], leftOut: [], newcomers: [] }),
  write: ({ model }) => ({ 'tide.txt': 'high water at ' + model.plan.site.name }),
})
`,
  )
  list('core/formats/all.ts', 'tide', './tide', 'planJson')
  add(
    'core/tides/discipline.ts',
    `import { defineDiscipline } from '../disciplines/discipline'
import { defineRule } from '../findings/rule'
import { defineVerb } from '../verbs/verb'

const lowWater = defineRule({
  id: 'tides/low-water',
  severity: 'note',
  catches: ['C-99'],
  title: 'Low water',
  sheet: 'survey',
  reads: ['site'],
  *check(model) {
    yield { subjects: [], text: 'Low water at ' + model.plan.site.name, why: 'The moon.' }
  },
})
export const tides = defineDiscipline({
  id: 'tides',
  rules: [lowWater],
  fieldRules: [
    {
      id: 'field/flood',
      severity: 'caution',
      catches: ['C-98'],
      title: 'Flood',
      sheet: 'adopt',
      *check() {
        yield { subjects: [], text: 'It rises.', why: 'The moon.' }
      },
    },
  ],
  day: [
    {
      phase: 'record',
      steps: (day) => [day.add({ id: 'read-tide', kind: 'read-tide', title: 'Read the tide', needs: [] })],
    },
  ],
  tests: (proof) =>
    proof.add(
      {
        id: 'tide',
        title: 'The tide turns',
        kind: 'service',
        from: 'gateway',
        fromPlace: 'gateway',
        toPlace: 'controller',
        expected: 'works',
        because: 'it always does',
      },
      null,
    ),
  causes: [
    {
      turn: 1,
      find: ({ wrong }) => [
        {
          kind: 'flood',
          text: 'All is under water.',
          evidence: [],
          checks: [],
          explains: wrong.map((r) => r.test.id),
          subjects: [],
        },
      ],
    },
  ],
  verbs: [
    defineVerb({
      name: 'tide',
      usage: 'FILE',
      about: 'when it is high',
      run: () => ({ status: 0, text: 'at noon', json: { ok: true } }),
    }),
  ],
})
`,
  )
  list('core/disciplines/index.ts', 'tides', '../tides/discipline', 'proof')
  add(
    'standins/faults/flood.ts',
    `import { z } from 'zod'
import { defineFault } from './fault'
export const flood = defineFault({
  kind: 'flood',
  schema: z.strictObject({ kind: z.literal('flood') }),
  offer: (plan) => ({ fault: { kind: 'flood' }, label: plan.site.name + ' is under water' }),
  cutsLine: true,
})
`,
  )
  list('standins/faults/index.ts', 'flood', './flood', 'rogueServer')
})

const SITE = `import { quayside } from './tests/sites/quayside'
import * as plans from '@mast/core/plan'
const harbour = plans.parsePlan(quayside())
if (!harbour.ok) throw new Error(JSON.stringify(harbour.problems))
`

describe('a toy', () => {
  it('kind is in schema, edits, checks, cascades, merging, words, limits, presets and docs', () => {
    const seen = told<Record<string, unknown>>(`${SITE}
import { presetFrom } from '@mast/core/survey'
import { generatedDocuments } from './scripts/generatedDocuments'
const call = (name: string, args: unknown) => (p: plans.SitePlan) => plans.applyRawEdit(p, { name, args })
const add = call('addBuoy', { id: 'red', name: 'Red', locationId: 'cupboard', deviceIds: ['switch'] })(harbour.plan)
if (!add.ok) throw new Error(JSON.stringify(add.problems))
const plan: any = add.plan
const dangling = call('addBuoy', { id: 'green', name: 'Green', locationId: 'nowhere' })(plan)
const after = (name: string, id: string): any => {
  const o = call(name, { id })(plan)
  if (!o.ok) throw new Error(JSON.stringify(o.problems))
  return o.plan
}
const documents = generatedDocuments()
console.log(JSON.stringify({
  buoy: plan.buoys.red,
  summary: add.summary,
  dangling: dangling.ok ? '' : dangling.problems[0].reason,
  withoutPlace: after('removeLocation', 'cupboard').buoys,
  withoutDevice: after('removeDevice', 'switch').buoys.red.deviceIds,
  thing: plans.thingOf(['buoys', 'red', 'chainM']),
  word: [plans.wordsForTop('buoys'), plans.wordsForField('chainM'), plans.nameOfId(plan, 'red')],
  tooMany: plans.sizeProblems({
    ...plan,
    buoys: Object.fromEntries([1, 2, 3, 4].map((n) => [n, {}])),
  } as never)[0]?.reason,
  elsewhere: (presetFrom(plan, 'Other', ['10.9.0.0/16']) as any).buoys,
  empty: (plans.createPlan('x') as any).buoys,
  table: documents['docs/plan-document.md']!.includes('buoys'),
  schema: documents['docs/site-plan.schema.json']!.includes('chainM'),
}))`)
    expect(seen).toMatchObject({
      buoy: { id: 'red', name: 'Red', chainM: 12, locationId: 'cupboard', deviceIds: ['switch'] },
      summary: 'Add buoy Red',
      dangling: "there is no place 'nowhere'",
      withoutPlace: {},
      withoutDevice: [],
      thing: { top: 'buoys', id: 'red', part: '*' },
      word: ['buoy', 'chain, m', 'Red'],
      elsewhere: {},
      empty: {},
      table: true,
      schema: true,
    })
    expect(seen.tooMany).toMatch(/at most 3 buoys/)
  }, 60_000)

  it('discipline is in the analysis, the field, the run sheet, the proof, the causes and the command line', () => {
    const seen = told<Record<string, unknown>>(`${SITE}
import { findingsOf } from '@mast/core/findings'
import { fieldFindingsOf } from '@mast/core/field'
import { runSheetOf } from '@mast/core/bringup'
import { causesOf, proofTestsOf } from '@mast/core/proof'
import { siteModel } from '@mast/core/topology'
import { generatedDocuments } from './scripts/generatedDocuments'
import { runCommand } from './cli/main'
const model = siteModel(harbour.plan)
const facts = { devices: [], foreign: [], steps: [], backups: [], clients: [], drills: [], nowMs: 0, clockSpeed: 1 }
const tests = proofTestsOf(model)
const results = tests.map((test) => ({ test, verdict: 'contradicts', observed: '', observation: null })) as never
console.log(JSON.stringify({
  finding: findingsOf(harbour.plan).some((f) => f.ruleId === 'tides/low-water'),
  field: fieldFindingsOf(model, facts as never).some((f) => f.ruleId === 'field/flood'),
  step: runSheetOf(model).some((s) => s.kind === 'read-tide'),
  waitsForIt: runSheetOf(model).find((s) => s.kind === 'unplug-old')!.needs.includes('read-tide'),
  test: tests.some((t) => t.id === 'tide'),
  cause: causesOf(model, results, { devices: [], foreign: [] })[0]?.kind,
  rules: generatedDocuments()['docs/rules.md']!.includes('tides/low-water'),
  verb: runCommand('tide', JSON.stringify(harbour.plan), {}).text,
}))`)
    expect(seen).toEqual({
      finding: true,
      field: true,
      step: true,
      waitsForIt: true,
      test: true,
      cause: 'flood',
      rules: true,
      verb: 'at noon',
    })
  }, 60_000)

  it('format is recognised, read, written, helped with and in the docs; a fault is taken and offered', () => {
    const seen = told<Record<string, unknown>>(`${SITE}
import { formatOf } from '@mast/core/formats'
import { faultKey, faultSchema, faultsOffered } from '@mast/standins/control'
import { generatedDocuments } from './scripts/generatedDocuments'
import { runCommand } from './cli/main'
const text = JSON.stringify(harbour.plan)
console.log(JSON.stringify({
  recognised: formatOf('x.txt', 'high water')?.id,
  written: runCommand('export', text, { format: 'tide' }).text,
  read: runCommand('import', text, { input: { name: 'x', text: 'high water' } }).text,
  known: runCommand('export', text, {}).text.includes('tide'),
  docs: generatedDocuments()['docs/command-line.md']!.includes('Tide table'),
  fault: faultSchema.safeParse({ kind: 'flood' }).success,
  key: faultKey({ kind: 'flood' } as never),
  offered: faultsOffered(harbour.plan).some((f) => f.label.endsWith('is under water')),
}))`)
    expect(seen).toEqual({
      recognised: 'tide',
      written: 'high water at Kittiwake Harbour',
      read: 'Tide table: one tide',
      known: true,
      docs: true,
      fault: true,
      key: 'flood',
      offered: true,
    })
  }, 60_000)
})
