// Ports on loopback.
import { createServer } from 'node:net'

const listen = (port) =>
  new Promise((resolve, reject) => {
    const server = createServer()
    server.once('error', reject)
    server.listen(port, '127.0.0.1', () => {
      const { port: got } = server.address()
      server.close(() => resolve(got))
    })
  })

export const freePort = () => listen(0)

export async function isFree(port) {
  try {
    await listen(port)
    return true
  } catch {
    return false
  }
}
