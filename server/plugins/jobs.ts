import { sweepSilence } from '../adoption/devices'
import { sweepBackups } from '../backups/backups'
import { dropOld } from '../clients/stations'
import { innermost, isDatabaseAway } from '../db/away'
import { closeDatabase } from '../db/database'
import { startPulse, stopPulse } from '../db/pulse'
import { startListening, stopListening } from '../live/notices'
import { sampleClients } from '../nightly/clientHours'
import { sweepReplans } from '../nightly/replan'
import { sweepReleases } from '../releases/waves'
import { dropUnknown } from '../standins/client'
import { endThreads, warmThreads } from '../work/workers'

const SWEEP_MS = 1500
const WORLDS_MS = 60_000
const REPLANS_MS = 15_000
const SAMPLES_MS = 30_000
const OLD_MS = 15 * 60_000
const BACKUPS_MS = 30_000
const WARM_MS = 4000
const FIRST_WORLDS_MS = 5000

/** Listens for notices, watches for silence, and ends with the process that started this one. */
export default defineNitroPlugin((nitro) => {
  if (!process.env.DATABASE_URL) return
  void startListening()
  startPulse()
  // What starts has enough to do; whoever needs a thread before does not wait for this.
  setTimeout(warmThreads, WARM_MS).unref()
  let busy = false
  let isEnding = false
  const timer = setInterval(() => {
    if (busy) return
    busy = true
    sweepSilence()
      .then(sweepReleases)
      .catch((error: unknown) => {
        if (!isEnding && !isDatabaseAway(error))
          console.error('the watch for silence failed:', innermost(error).message)
      })
      .finally(() => {
        busy = false
      })
  }, SWEEP_MS)
  /** The stand-ins of sites that are no longer there go. */
  const tidy = (): void => {
    dropUnknown().catch(() => {
      /* they may be starting; the next turn finds them */
    })
  }
  const worlds = setInterval(tidy, WORLDS_MS)
  setTimeout(tidy, FIRST_WORLDS_MS).unref()
  const samples = setInterval(() => {
    sampleClients().catch((error: unknown) => {
      if (!isEnding && !isDatabaseAway(error))
        console.error('counting clients failed:', innermost(error).message)
    })
  }, SAMPLES_MS)
  const keeping = setInterval(() => {
    sweepBackups().catch((error: unknown) => {
      if (!isEnding && !isDatabaseAway(error))
        console.error('backing up devices failed:', innermost(error).message)
    })
  }, BACKUPS_MS)
  const old = setInterval(() => {
    dropOld().catch((error: unknown) => {
      if (!isEnding && !isDatabaseAway(error))
        console.error('dropping old counts of clients failed:', innermost(error).message)
    })
  }, OLD_MS)
  let replanning = false
  const replans = setInterval(() => {
    if (replanning) return
    replanning = true
    sweepReplans()
      .catch((error: unknown) => {
        if (!isEnding && !isDatabaseAway(error))
          console.error('planning channels anew failed:', innermost(error).message)
      })
      .finally(() => {
        replanning = false
      })
  }, REPLANS_MS)
  nitro.hooks.hook('close', async () => {
    isEnding = true
    clearInterval(timer)
    clearInterval(worlds)
    clearInterval(replans)
    clearInterval(samples)
    clearInterval(old)
    clearInterval(keeping)
    await stopPulse()
    await stopListening()
    await endThreads()
    await closeDatabase()
  })
  process.on('disconnect', () => process.exit(0))
})
