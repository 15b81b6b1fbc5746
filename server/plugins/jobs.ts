import { sweepSilence } from '../adoption/devices'
import { innermost, isDatabaseAway } from '../db/away'
import { closeDatabase } from '../db/database'
import { startListening, stopListening } from '../live/notices'

const SWEEP_MS = 1500

/** Listens for notices, watches for silence, and ends with the process that started this one. */
export default defineNitroPlugin((nitro) => {
  if (!process.env.DATABASE_URL) return
  void startListening()
  let busy = false
  const timer = setInterval(() => {
    if (busy) return
    busy = true
    sweepSilence().catch((error: unknown) => { if (!isDatabaseAway(error)) console.error('the watch for silence failed:', innermost(error).message) }).finally(() => { busy = false })
  }, SWEEP_MS)
  nitro.hooks.hook('close', async () => {
    clearInterval(timer)
    await stopListening()
    await closeDatabase()
  })
  process.on('disconnect', () => process.exit(0))
})
