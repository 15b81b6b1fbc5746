/** Steps of the run sheet that are done. */
import { z } from 'zod'
import { endpoint } from './endpoint'
import { doneAt, moment, name, nothing } from './values'

const stepDone = z.object({
  stepId: z.string(),
  doneAt: moment,
  /** Until when its wait runs. */
  readyAt: moment,
  by: z.string().nullable(),
  note: z.string(),
  /** What the step said when it was done; null where that is not known. */
  said: z.string().nullable().default(null),
})
export type StepDone = z.infer<typeof stepDone>
export const readSteps = endpoint({
  method: 'GET',
  path: '/api/sites/:site/steps',
  access: 'viewer',
  reply: z.array(stepDone),
})
/**
 * Ticks a step, or lets the stand-ins do it first. `at` is when a person did it, where the network
 * was away then, `said` what the step asked of them (`saysOf`).
 */
export const tickStep = endpoint({
  method: 'PUT',
  path: '/api/sites/:site/steps/:step',
  access: 'installer',
  params: { step: name },
  body: z.strictObject({
    by: z.enum(['person', 'standins']),
    acknowledged: z.boolean(),
    note: z.string().max(500).default(''),
    at: doneAt.optional(),
    said: z.string().max(64).nullable().default(null),
  }),
  reply: nothing,
})
/** Takes a tick back. */
export const untickStep = endpoint({
  method: 'DELETE',
  path: '/api/sites/:site/steps/:step',
  access: 'installer',
  params: { step: name },
  reply: nothing,
})
