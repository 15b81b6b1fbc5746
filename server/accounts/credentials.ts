/** What a name and a password may be. */
import { z } from 'zod'

export const nameSchema = z.string().trim().min(2, 'a name has at least 2 characters').max(60)
/** Length is what counts (NIST SP 800-63B 5.1.1): no rules about kinds of characters. */
export const newPasswordSchema = z
  .string()
  .min(10, 'a password has at least 10 characters')
  .max(200)
export const credentialsSchema = z.strictObject({
  name: nameSchema,
  password: z.string().min(1).max(200),
})
