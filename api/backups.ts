/** Configurations of devices that the controller has kept. */
import { z } from 'zod'
import { endpoint } from './endpoint'
import { moment, name } from './values'

const backup = z.object({
  deviceId: z.string(),
  at: moment,
  /** SHA-256 of the configuration. */
  digest: z.string(),
  firmware: z.string().nullable(),
})
export type Backup = z.infer<typeof backup>

/** The newest of each device first. */
export const readBackups = endpoint({
  method: 'GET',
  path: '/api/sites/:site/backups',
  access: 'viewer',
  reply: z.object({ backups: z.array(backup) }),
})
/** One of them, as it is loaded by hand. It has keys in it, so the log keeps that it was looked at. */
export const readBackup = endpoint({
  method: 'GET',
  path: '/api/sites/:site/devices/:device/backups/:digest',
  access: 'installer',
  params: { device: name, digest: z.string().regex(/^[0-9a-f]{64}$/) },
})
