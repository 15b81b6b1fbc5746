/** Releases as people ask for them: worked out in threads, with where they ask from. */
import type { ReleasePreview, Sender } from '@mast/core/release'
import { isAtLeast, type Role } from '@mast/core/roles'
import { db } from '../db/database'
import { Refused } from '../refusal'
import { inThread, TooLong } from '../work/workers'
import { standingRelease } from './standing'

const WORK_MS = 60_000

async function worked<T>(work: Promise<T>): Promise<T> {
  try {
    return await work
  } catch (error) {
    if (error instanceof TooLong)
      throw new Refused(
        'not-possible',
        'working out what would be sent takes too long for this plan. Divide it into several sites',
      )
    throw error
  }
}

export const preview = (
  siteId: string,
  accountId: string,
  revision: number,
  sender: Sender,
): Promise<ReleasePreview> =>
  worked(inThread('previewRelease', { siteId, revision, sender }, { accountId, maxMs: WORK_MS }))

/** @throws Refused with everything that keeps it back. */
export const send = (
  siteId: string,
  accountId: string,
  revision: number,
  { note, goesOver }: { readonly note: string; readonly goesOver: boolean },
  sender: Sender,
): Promise<{ number?: number }> =>
  worked(
    inThread(
      'release',
      { siteId, revision, note, accountId, sender, onlyFirst: false, goesOver },
      { accountId, maxMs: WORK_MS },
    ),
  )

/** Under way by site, so that twelve claims at once ask once. */
const first = new Map<string, Promise<unknown>>()

/**
 * The plan as it is when the first device of a site is to have something; whoever asks for that
 * asks for this.
 * @throws Refused where it cannot be sent
 */
export async function firstRelease(siteId: string, accountId: string): Promise<void> {
  if (await standingRelease(db(), siteId)) return
  const begun =
    first.get(siteId) ??
    worked(
      inThread(
        'release',
        { siteId, revision: null, note: 'the first', accountId, sender: null, onlyFirst: true },
        { accountId: null, maxMs: WORK_MS },
      ),
    ).finally(() => first.delete(siteId))
  first.set(siteId, begun)
  await begun
}

/**
 * Who may send sends with the first claim: there is nothing yet that could be cut. What was claimed
 * is claimed in any case; gives why nothing was sent, where that is so.
 */
export async function sendFirst(
  siteId: string,
  accountId: string,
  role: Role,
): Promise<string | null> {
  if (!isAtLeast(role, 'engineer')) return null
  try {
    await firstRelease(siteId, accountId)
    return null
  } catch (error) {
    return error instanceof Refused && error.kind !== 'busy'
      ? error.message
      : 'too much is going on at once; send the plan to the devices in a moment'
  }
}
