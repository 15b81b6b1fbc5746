/** What came in, checked. */
import type { Refusal } from '@mast/api'
import type { z } from 'zod'
import { Refused } from '../refusal'

/** @throws Refused with what is wrong, and where. */
export function validated<S extends z.ZodType>(schema: S, value: unknown): z.output<S> {
  const result = schema.safeParse(value)
  if (result.success) return result.data
  throw new Refused('invalid', 'the request is not valid', { problems: problemsOf(result.error) })
}

const MOST_PROBLEMS = 20
const problemsOf = (error: z.ZodError): NonNullable<NonNullable<Refusal['data']>['problems']> =>
  error.issues.slice(0, MOST_PROBLEMS).map((i) => ({
    path: i.path.map((p) => (typeof p === 'symbol' ? String(p) : p)),
    reason: i.message,
  }))
