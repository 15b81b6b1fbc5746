/** What a route answers where it does not do what it was asked. */
import { z } from 'zod'

export const refusal = z.object({
  /** A sentence that a person can act on. */
  message: z.string(),
  data: z
    .object({
      /** What in the request is wrong, and where. */
      problems: z
        .array(
          z.object({
            path: z.array(z.union([z.string(), z.number()])).readonly(),
            reason: z.string(),
          }),
        )
        .optional(),
      /** Of what was to be sent to the devices: everything that keeps it back. */
      reasons: z.array(z.string()).optional(),
      /** Of a change that was not saved: which, and where the plan is by now. */
      changeId: z.string().optional(),
      revision: z.number().optional(),
      conflicts: z.array(z.unknown()).optional(),
    })
    .optional(),
})
export type Refusal = z.infer<typeof refusal>
