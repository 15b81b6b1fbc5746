import type { Server } from 'node:https'
import { openBootstrapDoor } from '../http/bootstrapDoor'

/** Serves devices from their box where it is told a port for it. */
export default defineNitroPlugin((nitro) => {
  const port = Number(process.env.MAST_BOOTSTRAP_PORT)
  if (!port || !process.env.DATABASE_URL) return
  let server: Server | undefined
  openBootstrapDoor(port, process.env.NITRO_HOST ?? '127.0.0.1').then(
    (open) => {
      server = open
    },
    (error: unknown) => {
      console.error('devices from their box are not served:', (error as Error).message)
    },
  )
  nitro.hooks.hook('close', () => {
    server?.close()
    server?.closeAllConnections()
  })
})
