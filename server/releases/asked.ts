/** Releases as people ask for them: worked out in threads, with where they ask from. */
import { createError, isError, type H3Event } from 'h3'
import type { ReleasePreview, Sender } from '@mast/core/release'
import { db } from '../db/database'
import { addressOf } from '../http/clientAddress'
import { inThread, TooLong } from '../work/workers'
import type { SendOutcome } from './send'
import { standingRelease } from './standing'

const WORK_MS = 60_000

const senderOf = (event: H3Event): Sender => ({
  address: addressOf(event),
  port: event.node.req.socket.localPort ?? 443,
})

async function worked<T>(work: Promise<T>): Promise<T> {
  try {
    return await work
  } catch (error) {
    if (error instanceof TooLong)
      throw createError({
        statusCode: 422,
        message:
          'working out what would be sent takes too long for this plan. Divide it into several sites',
      })
    throw error
  }
}

export const preview = (
  event: H3Event,
  site: { id: string },
  accountId: string,
  revision: number,
): Promise<ReleasePreview> =>
  worked(
    inThread(
      'previewRelease',
      { siteId: site.id, revision, sender: senderOf(event) },
      { accountId, maxMs: WORK_MS },
    ),
  )

export async function send(
  event: H3Event,
  siteId: string,
  accountId: string,
  revision: number,
  note: string,
): Promise<{ number: number | undefined }> {
  const outcome = await worked(
    inThread(
      'release',
      { siteId, revision, note, accountId, sender: senderOf(event), onlyFirst: false },
      { accountId, maxMs: WORK_MS },
    ),
  )
  if (!outcome.ok)
    throw createError({
      statusCode: 422,
      message: outcome.reasons[0]!,
      data: { reasons: outcome.reasons },
    })
  return { number: outcome.number }
}

/** Under way by site, so that twelve claims at once ask once. */
const first = new Map<string, Promise<SendOutcome>>()

/**
 * The plan as it is when the first device of a site is to have something; whoever asks for that
 * asks for this. What they asked for is done in any case.
 */
export async function firstRelease(siteId: string, accountId: string): Promise<SendOutcome> {
  if (await standingRelease(db(), siteId)) return { ok: true }
  const begun =
    first.get(siteId) ??
    worked(
      inThread(
        'release',
        { siteId, revision: null, note: 'the first', accountId, sender: null, onlyFirst: true },
        { accountId: null, maxMs: WORK_MS },
      ),
    )
      .catch((error: unknown): SendOutcome => {
        if (isError(error) && error.statusCode < 500) return { ok: false, reasons: [error.message] }
        throw error
      })
      .finally(() => first.delete(siteId))
  first.set(siteId, begun)
  return begun
}
