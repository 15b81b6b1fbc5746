/** The JSON Schema of the plan and the list of rules. */
import { z } from 'zod'
import { fieldRules } from '@mast/core/field'
import { rules } from '@mast/core/findings'
import { planSchema } from '@mast/core/plan'

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
