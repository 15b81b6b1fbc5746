/** Notices of changes to open screens: LISTEN/NOTIFY carries them between processes, server-sent events to browsers. */
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { connectionString, type Executor } from '../db/database'

export type Topic = 'plan' | 'devices' | 'steps' | 'evidence' | 'standins'
export interface Notice { readonly site: string; readonly topic: Topic; readonly revision?: number }

const CHANNEL = 'able_mast'
const RECONNECT_MS = 1000
type Listener = (notice: Notice) => void
const listeners = new Set<Listener>()
let client: pg.Client | undefined
let stopped = false

export const notify = async (at: Executor, notice: Notice): Promise<void> => {
  await at.execute(sql`select pg_notify(${CHANNEL}, ${JSON.stringify(notice)})`)
}

export function subscribe(listener: Listener): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

export async function startListening(): Promise<void> {
  if (stopped) return
  const next = new pg.Client({ connectionString: connectionString() })
  const again = (): void => {
    if (client === next) client = undefined
    if (!stopped) setTimeout(() => void startListening().catch(() => {}), RECONNECT_MS).unref()
  }
  next.on('notification', ({ payload }) => {
    if (!payload) return
    const notice = JSON.parse(payload) as Notice
    for (const l of listeners) l(notice)
  })
  next.on('error', () => {})
  next.on('end', again)
  try {
    await next.connect()
    await next.query(`listen ${CHANNEL}`)
    client = next
  } catch {
    await next.end().catch(() => {})
    again()
  }
}

export async function stopListening(): Promise<void> {
  stopped = true
  await client?.end()
}
