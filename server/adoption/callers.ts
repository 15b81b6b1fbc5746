/**
 * Devices that call without a token. Whoever called first under a serial and has not stopped is the
 * one that counts; others under it are shown beside it, and nobody
 * claims the serial until all but one are silent: the label on the housing does not tell which of
 * them has it.
 */
import { and, asc, eq, gt, inArray, sql } from 'drizzle-orm'
import type { Hello } from '@mast/protocol'
import { db, type Executor } from '../db/database'
import { callers } from '../db/schema'

/** Kept so long after the last call, to be shown. */
const KEPT_MS = 2 * 60_000
/**
 * More than this under one serial are no mistake of labels; more than this in all are no fleet. The
 * newest go.
 */
const MOST_OF_A_SERIAL = 8
const MOST = 20_000

export type Caller = typeof callers.$inferSelect

const ago = (ms: number): Date => new Date(Date.now() - ms)

const SERIALS = 7_350_004
/**
 * Whoever looks at or changes who calls under a serial, and then at devices, does so one after the
 * other.
 */
export const lockSerial = async (tx: Executor, serial: string): Promise<void> => {
  await tx.execute(sql`select pg_advisory_xact_lock(${SERIALS}, hashtext(${serial}))`)
}

/** Writes a call down. Gives those who call under the serial now, the first first. */
export async function heard(tx: Executor, h: Hello, silenceMs: number): Promise<Caller[]> {
  const { serial, claimSecretDigest, hardwareAddress, model, firmware, address } = h
  const known = await tx
    .select({ digest: callers.claimSecretDigest })
    .from(callers)
    .where(eq(callers.serial, serial))
    .limit(MOST_OF_A_SERIAL)
  if (known.length < MOST_OF_A_SERIAL || known.some((k) => k.digest === claimSecretDigest)) {
    const now = new Date()
    await tx
      .insert(callers)
      .values({
        serial,
        claimSecretDigest,
        hardwareAddress,
        model,
        firmware,
        address,
        firstHeardAt: now,
        lastHeardAt: now,
      })
      .onConflictDoUpdate({
        target: [callers.serial, callers.claimSecretDigest],
        set: {
          hardwareAddress,
          model,
          firmware,
          address,
          lastHeardAt: now,
          firstHeardAt: sql`case when ${callers.lastHeardAt} <
            ${ago(silenceMs).toISOString()}::timestamptz then ${now.toISOString()}::timestamptz else
            ${callers.firstHeardAt} end`,
        },
      })
  }
  return callingNow(tx, serial, silenceMs)
}

/** Who calls under a serial now, the first first. */
export const callingNow = (at: Executor, serial: string, silenceMs: number): Promise<Caller[]> =>
  at
    .select()
    .from(callers)
    .where(and(eq(callers.serial, serial), gt(callers.lastHeardAt, ago(silenceMs))))
    .orderBy(asc(callers.firstHeardAt), asc(callers.claimSecretDigest))

export const callersOf = async (serials: readonly string[]): Promise<Caller[]> =>
  serials.length === 0
    ? []
    : db()
        .select()
        .from(callers)
        .where(inArray(callers.serial, [...serials]))
        .orderBy(asc(callers.firstHeardAt))

export const forgetCallers = async (tx: Executor, serial: string): Promise<void> => {
  await tx.delete(callers).where(eq(callers.serial, serial))
}

/** Forgets who stopped calling, and the newest of too many. */
export async function sweepCallers(): Promise<void> {
  await db().execute(
    sql`delete from callers where (serial, claim_secret_digest) in (select serial, claim_secret_digest
      from callers where last_heard_at < ${ago(KEPT_MS).toISOString()}::timestamptz for update skip
      locked)`,
  )
  await db().execute(
    sql`delete from callers where (serial, claim_secret_digest) in (select serial, claim_secret_digest
      from callers order by first_heard_at, serial offset ${MOST} for update skip locked)`,
  )
}
