/** What people do to the stand-ins of a site, with what the site keeps of it. */
import type { Fault } from '@mast/standins/control'
import { eq } from 'drizzle-orm'
import { inTransaction } from '../db/database'
import { deviceStates, documents, log, releases, stepsDone, targets } from '../db/schema'
import { notify } from '../live/notices'
import { Refused } from '../refusal'
import { doByHand, drop, setFault } from './client'

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
