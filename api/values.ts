/** Values that many routes speak of. */
import { PLAN_VERSION, type PlanPatch, type SitePlan } from '@mast/core/plan'
import { roles } from '@mast/core/roles'
import { z } from 'zod'

/** A moment as it crosses the wire: ISO 8601 in UTC. */
export const moment = z.iso.datetime()

export const nothing = z.object({})
/** An id of the plan, of a step, a token: whatever stands in a path and is looked up. */
export const name = z.string().min(1).max(160)
const LARGEST = 2 ** 31 - 1
/** A number that counts up from 1, in a body and in a path. */
export const counted = z.int().min(1).max(LARGEST)
export const countedText = z.coerce.number<string | number>().int().min(1).max(LARGEST)
export const role = z.enum(roles)

/**
 * A plan that the server checked when it was saved. Here only that it is one of this version: what
 * a page of an earlier version cannot know it does not put up.
 */
export const plan = z.custom<SitePlan>(
  (v) =>
    typeof v === 'object' &&
    v !== null &&
    'site' in v &&
    'version' in v &&
    v.version === PLAN_VERSION,
  'a plan of another version; load the page again',
)
export const patches: z.ZodType<readonly PlanPatch[]> = z.array(
  z.custom<PlanPatch>((v) => typeof v === 'object' && v !== null && 'op' in v && 'path' in v),
)

const OLDEST_MS = 30 * 86_400_000
const AHEAD_MS = 5 * 60_000
/**
 * When something was done in the field: not in the future, give or take a wrong clock, and not long
 * ago.
 */
export const doneAt = z.iso
  .datetime()
  .transform((t) => new Date(t))
  .refine(
    (t) => t.getTime() < Date.now() + AHEAD_MS && t.getTime() > Date.now() - OLDEST_MS,
    'a time in the last 30 days is needed; is the clock of this device right?',
  )
