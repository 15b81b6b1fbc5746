/** The controller: on which host it runs, and how devices learn of it. */
import { z } from 'zod'
import { defineSingle } from './kind'
import { idSchema } from '../values'

export const controllerSchema = z.strictObject({
  hostDeviceId: idSchema.nullable(),
  port: z.int().min(1).max(65_535),
  /** How devices learn of it. */
  discovery: z.enum(['dhcp-option', 'dns-name']),
})

export const controller = defineSingle({
  top: 'controller',
  schema: controllerSchema,
  fieldWords: { hostDeviceId: 'runs on' },
  references: [{ at: 'hostDeviceId', to: ['devices'], whenGone: 'clear' }],
})
