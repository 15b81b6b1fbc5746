/**
 * The server's side of the stand-ins: asks them over loopback, keeps them in step with the plan.
 */
import { eq, inArray } from 'drizzle-orm'
import {
  drillSeenSchema,
  handReplySchema,
  MOST_PROBES,
  observationsSchema,
  snapshotSchema,
  vouchersSchema,
  worldsSchema,
  type DrillAsked,
  type DrillSeen,
  type Fault,
  type Hand,
  type HandReply,
  type Snapshot,
} from '@mast/standins/control'
import type { Observation, Probe } from '@mast/protocol'
import { physicalPlan } from '@mast/core/release'
import { db } from '../db/database'
import { sites } from '../db/schema'
import { keysOf, standingRelease } from '../releases/standing'
import { Refused } from '../refusal'
import { readSecrets } from '../vault/vault'
import { planAt, planOf } from '../sites/plans'

/** What takes virtual time can take this long, ms. */
const LONGEST_MS = 20 * 60_000
/** Of a failover that is tried, which is hurried. */
const LONGEST_DRILL_MS = 170_000

async function ask(
  path: string,
  method: string,
  body?: unknown,
  longestMs = LONGEST_MS,
): Promise<{ status: number; body: unknown }> {
  const port = process.env.MAST_STANDINS_PORT
  if (!port)
    throw new Refused(
      'busy',
      'the stand-ins are not running; start Able Mast with ./mast demo or ./mast start',
    )
  try {
    const response = await fetch(`http://127.0.0.1:${port}${path}`, {
      method,
      signal: AbortSignal.timeout(longestMs),
      headers: {
        authorization: `Bearer ${process.env.MAST_STANDINS_TOKEN ?? ''}`,
        'content-type': 'application/json',
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    })
    return { status: response.status, body: await response.json() }
  } catch (error) {
    throw new Refused(
      'busy',
      (error as Error).name === 'TimeoutError'
        ? 'the stand-ins did not come to an end in time; try less at once'
        : 'the stand-ins do not answer; they may be starting',
    )
  }
}

async function need<T>(
  schema: { parse(value: unknown): T },
  path: string,
  method: string,
  body?: unknown,
  longestMs = LONGEST_MS,
): Promise<T> {
  const reply = await ask(path, method, body, longestMs)
  if (reply.status !== 200)
    throw new Refused(
      reply.status === 404 ? 'out-of-turn' : 'unfit',
      (reply.body as { message?: string } | null)?.message ?? 'the stand-ins refused',
    )
  return schema.parse(reply.body)
}

/**
 * Brings the stand-ins of a site to what stands on the ground: what was released, with the labels
 * of the newest plan. They start where there are none yet.
 */
export async function show(siteId: string): Promise<{ revision: number; release: number }> {
  const [site] = await db()
    .select({ secretsVersion: sites.secretsVersion, createdAt: sites.createdAt })
    .from(sites)
    .where(eq(sites.id, siteId))
  const { plan: head, revision } = await planOf(db(), siteId)
  const standing = await standingRelease(db(), siteId)
  const release = standing?.number ?? 0
  // With a release people use the keys that it has.
  const keysVersion = standing ? 0 : site!.secretsVersion
  const there = await look(siteId)
  if (
    there?.revision === revision &&
    there.release === release &&
    there.keysVersion === keysVersion
  )
    return { revision, release }
  const plan = physicalPlan(head, standing && (await planAt(db(), siteId, standing.revision)))
  const seed = [...siteId].reduce((n, ch) => (n * 31 + ch.charCodeAt(0)) % 1_000_003, 7)
  const snapshot = await need(snapshotSchema, `/worlds/${siteId}`, 'PUT', {
    plan,
    ...(standing?.keys ?? keysOf(plan, await readSecrets(db(), siteId))),
    seed,
    epochSeconds: Math.floor(site!.createdAt.getTime() / 1000),
    revision,
    release,
    keysVersion,
  })
  await db().update(sites).set({ clockSpeed: snapshot.speed }).where(eq(sites.id, siteId))
  return { revision, release }
}

/** What the stand-ins of a site do now, or null where it has none yet. */
export async function look(siteId: string): Promise<Snapshot | null> {
  const reply = await ask(`/worlds/${siteId}`, 'GET')
  return reply.status === 200 ? snapshotSchema.parse(reply.body) : null
}

export async function runAt(siteId: string, speed: number): Promise<Snapshot> {
  await show(siteId)
  const snapshot = await need(snapshotSchema, `/worlds/${siteId}/clock`, 'POST', { speed })
  await db().update(sites).set({ clockSpeed: snapshot.speed }).where(eq(sites.id, siteId))
  return snapshot
}

export async function doByHand(siteId: string, hand: Hand): Promise<HandReply> {
  await show(siteId)
  return need(handReplySchema, `/worlds/${siteId}/hand`, 'POST', hand)
}

export async function setFault(siteId: string, fault: Fault, on: boolean): Promise<HandReply> {
  await show(siteId)
  return need(handReplySchema, `/worlds/${siteId}/fault`, 'POST', { fault, on })
}

/** What the maker of a site's stand-ins says of an owner, and by which certificate it is known. */
export async function vouchersFor(
  siteId: string,
  owner: Uint8Array,
  serials: readonly string[],
): Promise<{ maker: Uint8Array; vouchers: Uint8Array[] }> {
  await show(siteId)
  const octets = (text: string): Uint8Array => new Uint8Array(Buffer.from(text, 'base64'))
  const { maker, vouchers } = await need(vouchersSchema, `/worlds/${siteId}/vouchers`, 'POST', {
    owner: Buffer.from(owner).toString('base64'),
    serials,
  })
  return { maker: octets(maker), vouchers: vouchers.map(octets) }
}

export const drill = (siteId: string, asked: DrillAsked): Promise<DrillSeen> =>
  need(drillSeenSchema, `/worlds/${siteId}/drill`, 'POST', asked, LONGEST_DRILL_MS)

/**
 * In portions that the stand-ins take.
 * @param untilMs the moment by which it has to be done, ms since 1970
 */
export async function probe(
  siteId: string,
  probes: readonly Probe[],
  untilMs: number,
): Promise<Observation[]> {
  const all: Observation[] = []
  for (let i = 0; i < probes.length; i += MOST_PROBES)
    all.push(
      ...(
        await need(
          observationsSchema,
          `/worlds/${siteId}/probes`,
          'POST',
          { probes: probes.slice(i, i + MOST_PROBES) },
          Math.max(1, untilMs - Date.now()),
        )
      ).observations,
    )
  return all
}

/**
 * Tells the stand-ins which of their sites are still there. Theirs are asked for first: a site that
 * is opened meanwhile is not among them.
 */
export async function dropUnknown(): Promise<void> {
  const { sites: theirs } = await need(worldsSchema, '/worlds', 'GET')
  if (theirs.length === 0) return
  const ours = new Set(
    (await db().select({ id: sites.id }).from(sites).where(inArray(sites.id, theirs))).map(
      (s) => s.id,
    ),
  )
  for (const id of theirs) if (!ours.has(id)) await drop(id)
}

export async function drop(siteId: string): Promise<void> {
  await ask(`/worlds/${siteId}`, 'DELETE')
}
