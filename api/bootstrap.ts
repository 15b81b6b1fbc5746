/** Devices from their box (RFC 8572): who the owner is, whom makers vouch for. */
import { z } from 'zod'
import { endpoint } from './endpoint'
import { moment, name, nothing } from './values'

const MOST_FILES = 500
const LONGEST_FILE = 64 * 1024

const maker = z.object({ digest: z.string(), name: z.string(), until: moment })
const voucher = z.object({
  serial: z.string(),
  createdAt: moment,
  /** Null of one that holds for good. */
  expiresAt: moment.nullable(),
})
const taken = z.object({
  taken: z.number(),
  refused: z.array(z.object({ name: z.string(), why: z.string() })),
})
export type FilesTaken = z.infer<typeof taken>

export const readBootstrap = endpoint({
  method: 'GET',
  path: '/api/sites/:site/bootstrap',
  access: 'viewer',
  reply: z.object({
    /** What makers are given: the owner's certificate as text, and its SHA-256. */
    owner: z.object({ certificate: z.string(), digest: z.string() }).nullable(),
    makers: z.array(maker),
    vouchers: z.array(voucher),
  }),
})
/** Makes the site an owner that makers can vouch for; who is there already stays. */
export const makeOwner = endpoint({
  method: 'POST',
  path: '/api/sites/:site/bootstrap/owner',
  access: 'engineer',
  reply: nothing,
})
/** Certificates of makers and vouchers, as they give them. */
export const takeMakersFiles = endpoint({
  method: 'POST',
  path: '/api/sites/:site/bootstrap/files',
  access: 'engineer',
  body: z.strictObject({
    files: z
      .array(
        z.strictObject({
          name: z.string().min(1).max(200),
          content: z.base64().max(Math.ceil((LONGEST_FILE * 4) / 3) + 4),
        }),
      )
      .min(1)
      .max(MOST_FILES),
  }),
  reply: taken,
})
export const forgetVoucher = endpoint({
  method: 'DELETE',
  path: '/api/sites/:site/bootstrap/vouchers/:serial',
  access: 'engineer',
  params: { serial: name },
  reply: nothing,
})
export const forgetMaker = endpoint({
  method: 'DELETE',
  path: '/api/sites/:site/bootstrap/makers/:digest',
  access: 'engineer',
  params: { digest: z.string().regex(/^[0-9a-f]{64}$/) },
  reply: nothing,
})
/** The maker of the stand-ins vouches for all of them that the plan has by their serials. */
export const askStandinsMaker = endpoint({
  method: 'POST',
  path: '/api/sites/:site/standins/vouchers',
  access: 'engineer',
  reply: taken,
})
