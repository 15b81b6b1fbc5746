import { createError } from 'h3'
import { z } from 'zod'
import { claim } from '../../../../../adoption/claims'
import { isAtLeast } from '@mast/core/roles'
import { param, siteRoute } from '../../../../../http/handlers'
import { firstRelease } from '../../../../../releases/asked'

/** Claims a device by the serial as typed off its label. */
export default siteRoute(
  'installer',
  z.strictObject({ serial: z.string().min(1).max(40) }),
  async ({ event, site, role, account, body }) => {
    const outcome = await claim(site.id, param(event, 'device'), body.serial, account.id)
    if (!outcome.ok) throw createError({ statusCode: 422, message: outcome.reason })
    // Who may send sends with the first claim: there is nothing yet that could be cut.
    const sent = isAtLeast(role, 'engineer')
      ? await firstRelease(site.id, account.id).catch(() => ({
          ok: false as const,
          reasons: ['too much is going on at once; send the plan to the devices in a moment'],
        }))
      : { ok: true as const }
    return { notSent: sent.ok ? null : (sent.reasons[0] ?? null) }
  },
)
