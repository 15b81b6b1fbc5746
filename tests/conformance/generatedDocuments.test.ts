import { readFileSync } from 'node:fs'
import Ajv from 'ajv/dist/2020'
import { expect, it } from 'vitest'
import { quayside } from '../sites/quayside'
import { generatedDocuments } from '../../scripts/generatedDocuments'

it.each(Object.entries(generatedDocuments()))(
  '%s is fresh; else run: node --import tsx scripts/generate.ts',
  (file, text) => expect(readFileSync(file, 'utf8')).toBe(text),
)

it('a validator of JSON Schema 2020-12 accepts the demo plan by the published schema and refuses a broken one', () => {
  const validate = new Ajv({ strict: false, validateFormats: false }).compile(
    JSON.parse(readFileSync('docs/site-plan.schema.json', 'utf8')) as object,
  )
  const plan = JSON.parse(JSON.stringify(quayside())) as {
    segments: Record<string, { vlanId: number }>
  }
  expect(validate(plan), JSON.stringify(validate.errors)).toBe(true)
  plan.segments.management!.vlanId = 4095
  expect(validate(plan)).toBe(false)
})
