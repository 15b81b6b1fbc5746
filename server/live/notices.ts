/**
 * Notices of changes to open screens: LISTEN/NOTIFY carries them between processes, server-sent
 * events to browsers.
 */
import type { Topic } from '@mast/api'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { connectionString, type Executor } from '../db/database'

export type Notice =
  | {
      readonly site: string
      readonly topic: Topic
      readonly revision?: number
      readonly device?: string
    }
  /** Sessions of an account were ended; its open streams have to look whether they were meant. */
  | { readonly account: string; readonly topic: 'sessions' }
  /** Notices may have been missed. */
  | { readonly topic: 'missed' }

const CHANNEL = 'able_mast'
const RECONNECT_MS = 1000
const CONNECT_MS = 5000
type Listener = (notice: Notice) => void
const listeners = new Set<Listener>()
let client: pg.Client | undefined
let stopped = false
/** Whether there was a connection before this one. */
let wasLost = false

export const notify = async (at: Executor, notice: Notice): Promise<void> => {
  await at.execute(sql`select pg_notify(${CHANNEL}, ${JSON.stringify(notice)})`)
}

export function subscribe(listener: Listener): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/**
 * Keeps one connection that listens; makes a new one when it is lost, one at a time however many
 * ways its loss is told.
 */
export async function startListening(): Promise<void> {
  if (stopped) return
  const next = new pg.Client({
    connectionString: connectionString(),
    connectionTimeoutMillis: CONNECT_MS,
    keepAlive: true,
  })
  let isOver = false
  const again = (): void => {
    if (isOver) return
    isOver = true
    if (client === next) client = undefined
    next.end().catch(() => {})
    if (!stopped) setTimeout(() => void startListening(), RECONNECT_MS).unref()
  }
  next.on('notification', ({ payload }) => {
    if (!payload) return
    const notice = JSON.parse(payload) as Notice
    for (const l of listeners) l(notice)
  })
  next.on('error', again)
  next.on('end', again)
  try {
    await next.connect()
    await next.query(`listen ${CHANNEL}`)
    client = next
    // What was told while nobody listened is lost: every open screen looks for itself.
    if (wasLost) for (const l of listeners) l({ topic: 'missed' })
    wasLost = true
  } catch {
    again()
  }
}

export async function stopListening(): Promise<void> {
  stopped = true
  await client?.end()
}
