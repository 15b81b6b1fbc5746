/**
 * Whether the database answers, asked twice a second on a connection of its own. One that is
 * stopped without a word (its machine asleep, its disk gone, a cable out)
 * closes nothing: whoever asked it would wait for as long as it lasts. When it has not answered for
 * a while, every connection is cut, and until it answers again
 * whoever asks is told so at once.
 */
import pg from 'pg'
import { connections, connectionString } from './database'

const BEAT_MS = 500
/** Longer than a loaded machine takes for nothing, shorter than people wait. */
const SILENT_MS = 1500

let client: pg.Client | undefined
let timer: NodeJS.Timeout | undefined
let isBusy = false
let asked = 0
let stopped = false
let silent = false

export const isSilent = (): boolean => silent

async function beat(): Promise<void> {
  isBusy = true
  asked = performance.now()
  const mine =
    client ??
    new pg.Client({ connectionString: connectionString(), connectionTimeoutMillis: SILENT_MS })
  try {
    if (!client) {
      mine.on('error', () => {
        if (client === mine) client = undefined
      })
      await mine.connect()
      client = mine
    }
    await mine.query('select 1')
    if (client !== mine) return
    silent = false
    connections().mend()
  } catch {
    if (client === mine) client = undefined
    mine.end().catch(() => {})
    fallSilent()
  } finally {
    isBusy = false
  }
}

function fallSilent(): void {
  if (silent || stopped) return
  silent = true
  connections().cut()
}

/** The timer may be late because this process was busy; that is no silence of the database. */
let last = 0
function tick(): void {
  const now = performance.now()
  const late = now - last - BEAT_MS
  last = now
  if (!isBusy) {
    void beat()
    return
  }
  if (late > BEAT_MS) asked += late
  if (now - asked < SILENT_MS) return
  fallSilent()
  const dead = client
  client = undefined
  // Ends the wait of `beat` as well, which then tries a new connection.
  ;(
    dead as unknown as { connection?: { stream: { destroy(): void } } } | undefined
  )?.connection?.stream.destroy()
}

export function startPulse(): void {
  last = performance.now()
  timer = setInterval(tick, BEAT_MS)
}

export async function stopPulse(): Promise<void> {
  stopped = true
  clearInterval(timer)
  await client?.end().catch(() => {})
}
