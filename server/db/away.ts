/** Telling a database that is away from one that says no. */

/**
 * PostgreSQL is starting, stopping or gone (its SQLSTATE classes 08 and 57), has no connection left
 * (53300), or nothing listens where it was.
 */
const AWAY = /^(08...|57...|53300|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT)$/
const lost =
  /Connection terminated|connection error|not queryable|timeout exceeded when trying to connect|Query read timeout/

/** Said where it is known already that the database does not answer. */
export class DatabaseAway extends Error {
  readonly code = '57P03'
  constructor() {
    super('the database does not answer')
  }
}

export function isDatabaseAway(error: unknown): boolean {
  for (
    let e = error as { code?: string; message?: string; cause?: unknown } | undefined | null;
    e && typeof e === 'object';
    e = e.cause as typeof e
  )
    if (AWAY.test(e.code ?? '') || lost.test(e.message ?? '')) return true
  return false
}
/**
 * The innermost message and where it was thrown; the outer ones quote the query with its
 * parameters.
 */
export function innermost(error: unknown): Error {
  let e = error as Error
  while (e.cause instanceof Error) e = e.cause
  return e
}
