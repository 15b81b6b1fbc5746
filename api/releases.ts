/** What is sent to the devices. */
import type { ReleasePreview } from '@mast/core/release'
import { z } from 'zod'
import { endpoint } from './endpoint'
import { counted, countedText, moment, nothing } from './values'

const releaseLine = z.object({
  number: counted,
  revision: counted,
  state: z.enum(['sending', 'done', 'stopped']),
  why: z.string(),
  note: z.string(),
  who: z.string().nullable(),
  at: moment,
  endedAt: moment.nullable(),
  wave: z.number(),
  waves: z.number(),
  applyAt: moment.nullable(),
  goesOver: z.boolean(),
})
/** Of the release under way: where each device of its waves is. */
const underWay = z.object({
  deviceId: z.string(),
  wave: z.number(),
  at: z.enum(['waits', 'fetches', 'holds', 'tries', 'kept']),
})
export type UnderWay = z.infer<typeof underWay>
const releases = z.object({
  releases: z.array(releaseLine),
  standing: counted.nullable(),
  standingRevision: counted.nullable(),
  underWay: z.array(underWay),
})
export type Releases = z.infer<typeof releases>
/** What was sent to the devices, newest first, and how far the one under way is. */
export const readReleases = endpoint({
  method: 'GET',
  path: '/api/sites/:site/releases',
  access: 'viewer',
  reply: releases,
})

const texts = z.array(z.string())
const preview: z.ZodType<ReleasePreview> = z.object({
  changes: z.array(
    z.object({
      deviceId: z.string(),
      name: z.string(),
      differences: z.array(z.object({ where: z.string(), before: z.string(), after: z.string() })),
      firmware: z.object({ from: z.string(), to: z.string() }).nullable(),
      isLive: z.boolean(),
      awaySeconds: z.number(),
      hostsCut: z.number(),
    }),
  ),
  same: z.number(),
  waves: z.array(texts),
  moved: texts,
  pairs: z.array(z.object({ from: z.string(), to: z.string(), gained: texts, lost: texts })),
  leases: z.array(z.object({ segment: z.string(), why: z.string(), withinSeconds: z.number() })),
  byHand: texts,
  controllers: z.object({ from: z.string(), to: z.string() }).nullable(),
  weakKeys: texts,
  lockOuts: z.array(
    z.object({
      deviceId: z.string(),
      when: z.enum(['at-once', 'at-its-next-start']),
      text: z.string(),
      detour: z.string(),
    }),
  ),
  heldBack: texts,
  missing: z.array(z.object({ name: z.string(), what: texts })),
})
/**
 * What sending a revision would do; the newest where none is named. Names nothing that is secret.
 */
export const previewRelease = endpoint({
  method: 'GET',
  path: '/api/sites/:site/releases/preview',
  access: 'viewer',
  query: z.object({ revision: countedText.optional() }),
  reply: preview,
})
/**
 * Sends the plan to the devices, or an earlier release again. 422 with the reasons where something
 * keeps it back.
 */
export const sendRelease = endpoint({
  method: 'POST',
  path: '/api/sites/:site/releases',
  access: 'engineer',
  body: z.strictObject({
    revision: counted,
    note: z.string().trim().max(200),
    /** Devices go over to another controller with it, and are not heard here afterwards. */
    goesOver: z.boolean().default(false),
  }),
  reply: z.object({ number: counted.optional() }),
})
/** Stops a release under way: who has not kept it goes back. */
export const stopRelease = endpoint({
  method: 'POST',
  path: '/api/sites/:site/releases/:number/stop',
  access: 'engineer',
  params: { number: countedText },
  reply: nothing,
})
