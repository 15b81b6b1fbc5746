/** What is asked of a new site. Read in threads, since plans and site files are large. */
import { z } from 'zod'

export const openSchema = z.strictObject({
  name: z.string().trim().min(1).max(80),
  plan: z.unknown().optional(),
})
export const bringInSchema = z.strictObject({
  file: z.unknown(),
  passphrase: z.string().max(200).nullable(),
})
