/** The JSON Schema of the plan, the table of its kinds and the list of rules. */
import { readFileSync } from 'node:fs'
import { z } from 'zod'
import { fieldRules } from '@mast/core/field'
import { rules } from '@mast/core/findings'
import { formats } from '@mast/core/formats'
import { kinds, planSchema, type Kind } from '@mast/core/plan'
import { exercises } from '../demo/exercises'

const planDocument = 'docs/plan-document.md'
const commandLine = 'docs/command-line.md'

/** What becomes of an entity when what it refers to goes, in a word. */
const whenGoneWords = (r: Kind['references'][number]): string =>
  typeof r.whenGone === 'function'
    ? 'starts anew'
    : typeof r.whenGone === 'object'
      ? 'keeps it from going'
      : { clear: 'becomes null', drop: 'leaves the list', remove: 'goes too' }[r.whenGone]

/** The document with what stands between two marks put anew. */
function withPart(text: string, mark: string, lines: readonly string[]): string {
  const [open, close] = [`<!-- ${mark} -->`, `<!-- /${mark} -->`]
  const from = text.indexOf(open) + open.length
  return `${text.slice(0, from)}\n${lines.join('\n')}\n${text.slice(text.indexOf(close))}`
}
const kindTable = (): string[] => [
  '| map | an entity is a | at most | refers to (when that goes) |',
  '| --- | --- | --- | --- |',
  ...(kinds as readonly Kind[]).map(
    (k) =>
      `| \`${k.collection}\` | ${k.word} | ${k.most} | ` +
      `${k.references.map((r) => `\`${r.at}\` -> ${r.to.join(', ')} (${whenGoneWords(r)})`).join('; ')} |`,
  ),
]

const formatTable = (): string[] => [
  '| F | what | files | written | read | judged by | sheet |',
  '| --- | --- | --- | --- | --- | --- | --- |',
  ...formats.map(
    (f) =>
      `| \`${f.id}\` | ${f.title} | ${f.files} | ${f.write ? 'yes' : ''} | ${f.read ? 'yes' : ''} | ` +
      `${f.judge ? `\`${f.judge.program}\`` : ''} | ${f.sheet} |`,
  ),
]

const exercisesDocument = (): string =>
  [
    '# Exercises',
    '',
    'Jobs of the trade, each on a small invented site (`demo/exercises/`), opened from the list of sites.',
    '`demo/exercises/exercises.test.ts` walks each whole:',
    'it makes the decisions, presses the buttons of all remarks, brings the site up on the stand-ins by its',
    'run sheet, and proves it at each proof that its run sheet asks for. `tests/e2e/jobs.spec.ts` works three',
    'of them through on a phone in the browser, step by step; with `MAST_JOBS=whole` all of them.',
    'The table is made from what is tested.',
    '',
    '| job | site | what is to be done | what decides | shown, beside the rest of the proof, by |',
    '| --- | --- | --- | --- | --- |',
    ...exercises.map(
      (e) => `| ${e.job} | ${e.name} | ${e.task} | ${e.decides} | ${e.shows.join('; ')} |`,
    ),
    '',
  ].join('\n')

export function generatedDocuments(): Record<string, string> {
  const schema = {
    $id: 'https://able-mast.invalid/site-plan.schema.json',
    title: 'Able Mast site plan',
    ...z.toJSONSchema(planSchema, { target: 'draft-2020-12', io: 'input' }),
  }
  const table = [...rules, ...fieldRules].map(
    (r) => `| \`${r.id}\` | ${r.severity} | ${r.catches.join(', ')} | ${r.sheet} | ${r.title} |`,
  )
  return {
    'docs/site-plan.schema.json': `${JSON.stringify(schema, null, 2)}\n`,
    [planDocument]: withPart(readFileSync(planDocument, 'utf8'), 'kinds', kindTable()),
    [commandLine]: withPart(readFileSync(commandLine, 'utf8'), 'formats', formatTable()),
    'docs/exercises.md': exercisesDocument(),
    'docs/rules.md': [
      '# Rules',
      '',
      'Generated from `core/findings/rules` and `core/field` by `scripts/generate.ts`.',
      '',
      '| rule | severity | catches | sheet | what it finds |',
      '| --- | --- | --- | --- | --- |',
      ...table,
      '',
    ].join('\n'),
  }
}
