/** What people do to the stand-ins of a site, with what the site keeps of it. */
import type { FilesTaken } from '@mast/api'
import { derOf } from '@mast/protocol/zeroTouch'
import type { Fault } from '@mast/standins/control'
import { eq } from 'drizzle-orm'
import { db, inTransaction } from '../db/database'
import { deviceStates, documents, log, releases, stepsDone, targets } from '../db/schema'
import { notify } from '../live/notices'
import { Refused } from '../refusal'
import { takeIn } from '../bootstrap/fromMakers'
import { ownerOf } from '../bootstrap/owner'
import { planOf } from '../sites/plans'
import { doByHand, drop, setFault, vouchersFor } from './client'

/** Gives what the stand-ins say to it. @throws Refused where they cannot have that fault. */
export async function turnFault(
  siteId: string,
  fault: Fault,
  on: boolean,
  accountId: string,
): Promise<string> {
  const reply = await setFault(siteId, fault, on)
  if (!reply.ok) throw new Refused('not-possible', reply.text)
  await inTransaction(async (tx) => {
    await tx.insert(log).values({
      siteId,
      accountId,
      what: `${on ? 'Put in' : 'Took out'} the fault ${fault.kind}`,
    })
    await notify(tx, { site: siteId, topic: 'standins' })
  })
  return reply.text
}

/** Turns an antenna and reads. @throws Refused where there is no such unit */
export async function turned(
  siteId: string,
  to: { readonly deviceId: string; readonly across: number; readonly up: number },
): Promise<{ bridgeId: string; dbm: number | null; why: string }[]> {
  const reply = await doByHand(siteId, { kind: 'turn', ...to })
  if (!reply.ok) throw new Refused('not-possible', reply.text)
  return reply.readings ?? []
}

/** Asks the maker of the stand-ins to vouch for the owner, for each that the plan has by its serial. */
export async function vouchedFor(siteId: string, accountId: string): Promise<FilesTaken> {
  const owner = await ownerOf(db(), siteId)
  if (!owner) throw new Refused('out-of-turn', 'make the owner of this site first')
  const { devices, profiles } = (await planOf(db(), siteId)).plan
  const serials = Object.values(devices).flatMap((d) =>
    profiles[d.profileId]!.adoptable && d.serial ? [d.serial] : [],
  )
  const { maker, vouchers } = await vouchersFor(siteId, derOf(owner.certificate), serials)
  return takeIn(
    siteId,
    [
      { name: 'the maker of the stand-ins', content: maker },
      ...vouchers.map((content, i) => ({ name: serials[i]!, content })),
    ],
    accountId,
  )
}

/** Factory-new, uncabled; what was claimed, sent and ticked goes with them. */
export async function putBack(siteId: string, accountId: string): Promise<void> {
  await drop(siteId)
  await inTransaction(async (tx) => {
    await tx.delete(deviceStates).where(eq(deviceStates.siteId, siteId))
    // What was sent went to devices that are new again: no release stands, and numbers go on, so
    // that a proof of one is not taken for a proof of another.
    await tx.delete(targets).where(eq(targets.siteId, siteId))
    await tx.delete(documents).where(eq(documents.siteId, siteId))
    await tx
      .update(releases)
      .set({
        state: 'stopped',
        wave: 0,
        why: 'the stand-ins went back into their boxes',
        endedAt: new Date(),
      })
      .where(eq(releases.siteId, siteId))
    await tx.delete(stepsDone).where(eq(stepsDone.siteId, siteId))
    await tx
      .insert(log)
      .values({ siteId, accountId, what: 'Put the stand-ins back into their boxes' })
    for (const topic of ['devices', 'steps', 'standins', 'releases'] as const)
      await notify(tx, { site: siteId, topic })
  })
}
