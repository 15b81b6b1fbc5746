import { describe, expect, it } from 'vitest'
import { innermost, isDatabaseAway } from './away'

const wrapped = (cause: object): Error =>
  Object.assign(new Error('Failed query: select $1\nparams: secret'), {
    cause: Object.assign(new Error('why'), cause),
  })

describe('a database that is away', () => {
  it.each([
    { code: 'ECONNREFUSED' },
    { code: '57P01' },
    { code: '57P03' },
    { code: '08006' },
    { message: 'Connection terminated unexpectedly' },
    { message: 'Client has encountered a connection error and is not queryable' },
  ])('%j', (cause) => expect(isDatabaseAway(wrapped(cause))).toBe(true))
  it.each([
    { code: '23505' },
    { code: '40001' },
    { code: '42P01' },
    { message: 'syntax error' },
    { code: undefined },
  ])('%j is another matter', (cause) => expect(isDatabaseAway(wrapped(cause))).toBe(false))
  it('is not looked for in what is no error', () => {
    for (const x of [undefined, null, 'text', 7]) expect(isDatabaseAway(x)).toBe(false)
  })
})

it('what is logged is the innermost reason, not the query with its values', () =>
  expect(innermost(wrapped({ code: '23505' })).message).toBe('why'))
