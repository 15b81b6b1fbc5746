/** What open screens are told as it happens. */
import { z } from 'zod'
import { endpoint } from './endpoint'
import { counted, moment, nothing } from './values'

/**
 * By name of the event. `now` begins a stream: what was told before it was there is lost on it.
 * `ended` is that the session or the membership is over.
 */
export const notices = {
  now: z.object({ revision: counted, at: moment }),
  plan: z.object({ revision: counted.nullable() }),
  /** Of which one something changed; null of several, or of who is in none of the rows. */
  devices: z.object({ device: z.string().nullable() }),
  steps: nothing,
  evidence: nothing,
  standins: nothing,
  members: nothing,
  releases: nothing,
  alive: nothing,
  ended: nothing,
}
export type NoticeName = keyof typeof notices
/** What is told when something of a site changed. */
export type Topic = Exclude<NoticeName, 'now' | 'alive' | 'ended'>
/**
 * A revision, and when it was saved: of a server that was set back, another may bear the number by
 * now.
 */
export type Base = { readonly revision: number; readonly at: string | null }

/** Server-sent events. The stream ends with the session or the membership that opened it. */
export const followSite = endpoint({
  method: 'GET',
  path: '/api/sites/:site/events',
  access: 'viewer',
})
