/**
 * Making a release: the plan as it is, worked out into documents, kept sealed, and sent in waves.
 * Runs in a thread.
 */
import { and, eq, lt, ne } from 'drizzle-orm'
import type { SitePlan } from '@mast/core/plan'
import {
  cutsSender,
  previewRelease,
  waveTimes,
  type ReleasePreview,
  type Sender,
} from '@mast/core/release'
import { db, inTransaction, type Executor } from '../db/database'
import { log, releases, sites, targets } from '../db/schema'
import { Refused, siteIsGone } from '../refusal'
import { notify } from '../live/notices'
import { planAt } from '../sites/plans'
import { readSecrets } from '../vault/vault'
import { forgetDocuments, keepDocuments } from './documents'
import { liveDevices } from './live'
import { keysOf, sealKeys, standingRelease } from './standing'
import { targetsOf, toldBy, toldOf, trialSecondsOf, type Target } from './targets'
import { openWave } from './waves'

/** Of one site. */
const MOST_RELEASES = 200

interface Worked {
  readonly preview: ReleasePreview
  readonly write: (
    tx: Executor,
    number: number,
    accountId: string | null,
    note: string,
    goesOver: boolean,
  ) => Promise<void>
}

async function workOut(
  at: Executor,
  siteId: string,
  revision: number,
  sender: Sender | null,
): Promise<Worked> {
  const [site] = await at
    .select({ clockSpeed: sites.clockSpeed })
    .from(sites)
    .where(eq(sites.id, siteId))
  if (!site) throw siteIsGone()
  const after = await planAt(at, siteId, revision)
  const standing = await standingRelease(at, siteId)
  const before = standing && (await planAt(at, siteId, standing.revision))
  const secrets = await readSecrets(at, siteId)
  const told = await toldOf(at, siteId)
  const live = await liveDevices(at, siteId, site.clockSpeed)
  const { preview: plain, documents } = previewRelease(before, after, secrets, told, live)
  const cut = before && sender ? cutsSender(before, after, sender) : undefined
  const preview = cut ? { ...plain, heldBack: [...plain.heldBack, cut] } : plain
  const keys = keysOf(after, secrets)
  const waveOf = new Map(preview.waves.flatMap((ids, i) => ids.map((id) => [id, i + 1] as const)))
  const waitsOf = (profileId: string): SitePlan['profiles'][string]['waits'] =>
    after.profiles[profileId]!.waits
  const write: Worked['write'] = async (tx, number, accountId, note, goesOver) => {
    await keepDocuments(tx, siteId, documents)
    const had = await targetsOf(tx, siteId)
    const members = documents.filter((d) => waveOf.has(d.deviceId))
    const loadsFirmware = preview.changes.some((c) => c.firmware && waveOf.has(c.deviceId))
    await tx.insert(releases).values({
      siteId,
      number,
      revision,
      accountId,
      note,
      goesOver,
      state: preview.waves.length > 0 ? 'sending' : 'done',
      endedAt: preview.waves.length > 0 ? null : new Date(),
      waves: preview.waves.length,
      times: waveTimes(
        members.map((d) => waitsOf(d.profileId)),
        loadsFirmware,
      ),
      moved: [...preview.moved],
      keys: sealKeys(siteId, number, keys),
    })
    const rows = documents.map((d): typeof targets.$inferInsert => {
      const { deviceId, digest, firmware, profileId } = d
      const before = beforeOf(had.get(deviceId))
      const isSame = before?.digest === digest && before.firmware === firmware
      // Who is in no wave gets it when all waves are through: then it comes into a site that
      // stands.
      return {
        siteId,
        deviceId,
        release: number,
        wave: waveOf.get(deviceId) ?? 0,
        digest,
        firmware,
        profileId,
        state: isSame || preview.waves.length === 0 ? 'kept' : 'waiting',
        trialSeconds: trialSecondsOf(waitsOf(profileId)),
        before,
      }
    })
    await tx.delete(targets).where(eq(targets.siteId, siteId))
    for (let i = 0; i < rows.length; i += 500)
      await tx.insert(targets).values(rows.slice(i, i + 500))
    await forgetDocuments(tx, siteId)
    // The trail keeps what was sent when; here the newest do.
    await tx
      .delete(releases)
      .where(
        and(
          eq(releases.siteId, siteId),
          lt(releases.number, number - MOST_RELEASES),
          ne(releases.number, standing?.number ?? 0),
        ),
      )
    await openWave(tx, siteId, number, 1)
    const n = preview.changes.length
    await tx.insert(log).values({
      siteId,
      accountId,
      what:
        `Sent release ${number} (revision ${revision}) to the devices: ${n} ` +
        `${n === 1 ? 'change' : 'changes'}${note ? ` (${note})` : ''}`,
    })
    await notify(tx, { site: siteId, topic: 'releases' })
  }
  return { preview, write }
}

function beforeOf(t: Target | undefined): (typeof targets.$inferInsert)['before'] {
  const told = t && toldBy(t)
  return told
    ? {
        release: told.release,
        digest: told.digest,
        firmware: told.firmware,
        profileId: told.profileId,
        trialSeconds: told.trialSeconds,
      }
    : null
}

export const previewOf = async (
  siteId: string,
  revision: number,
  sender: Sender | null,
): Promise<ReleasePreview> => (await workOut(db(), siteId, revision, sender)).preview

const heldBack = (...reasons: string[]): Refused =>
  new Refused('not-possible', reasons[0]!, { reasons })

/**
 * Gives the number of the release where one was made.
 * @param onlyFirst makes one only where devices have none and none of them runs: nobody has looked
 * at what it does
 * @throws Refused with everything that keeps it back
 */
export async function sendRelease({
  siteId,
  revision,
  note,
  accountId,
  sender,
  onlyFirst,
  goesOver = false,
}: {
  siteId: string
  revision: number | null
  note: string
  /** null where the controller sends it by itself. */
  accountId: string | null
  sender: Sender | null
  onlyFirst: boolean
  goesOver?: boolean
}): Promise<{ number?: number }> {
  const [now] = await db().select({ head: sites.head }).from(sites).where(eq(sites.id, siteId))
  if (!now) throw siteIsGone()
  const made = await db()
    .select({ number: releases.number, revision: releases.revision })
    .from(releases)
    .where(eq(releases.siteId, siteId))
  if (onlyFirst && (await standingRelease(db(), siteId))) return {}
  const wanted = revision ?? now.head
  if (wanted !== now.head && !made.some((r) => r.revision === wanted))
    throw heldBack(
      `The plan is at revision ${now.head} by now, not at ${wanted}: look at what would be sent again.`,
    )
  // Worked out before anything is locked.
  const { preview, write } = await workOut(db(), siteId, wanted, sender)
  if (preview.heldBack.length > 0) throw heldBack(...preview.heldBack)
  if (goesOver && !preview.controllers)
    throw heldBack('Devices call the same controller before and after: nobody goes over.')
  if (onlyFirst && preview.waves.length > 0)
    throw heldBack('Devices of this site run already: look at what would be sent, and send it.')
  return inTransaction(async (tx) => {
    // Two who send at once do so one after the other; the second is told.
    const [site] = await tx
      .select({ head: sites.head })
      .from(sites)
      .where(eq(sites.id, siteId))
      .for('no key update')
    if (!site) throw siteIsGone()
    const there = await tx
      .select({ number: releases.number, state: releases.state })
      .from(releases)
      .where(eq(releases.siteId, siteId))
    const sending = there.find((r) => r.state === 'sending')
    if (sending)
      throw heldBack(`Release ${sending.number} is being sent; wait until it is done, or stop it.`)
    if (onlyFirst && there.length > made.length) return {}
    if (there.length !== made.length || site.head !== now.head)
      throw heldBack(
        'Somebody changed or sent something just now: look at what would be sent again.',
      )
    const number = Math.max(0, ...there.map((r) => r.number)) + 1
    await write(tx, number, accountId, note, goesOver)
    return { number }
  })
}
