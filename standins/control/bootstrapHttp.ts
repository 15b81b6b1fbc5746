/** A call by TLS with a certificate of the device's own; whose the server is, what it says has to show. */
import { request } from 'node:https'
import { YANG_JSON } from '@mast/protocol/zeroTouch'
import type { HttpReply, HttpRequest } from '../devices/appliance'
import type { Identity } from '../zeroTouch/factory'

const TIMEOUT_MS = 10_000
const MOST_BYTES = 16 * 1024 * 1024

/** Null where nobody answers. */
export const bootstrapHttp = (
  origin: string,
  { method, path, body }: HttpRequest,
  { certificate, key }: Identity,
): Promise<HttpReply | null> =>
  new Promise((resolve) => {
    const nobody = (): void => resolve(null)
    const asked = request(
      origin + path,
      {
        method,
        cert: certificate,
        key,
        // A stranger to the device (RFC 8572 5.3).
        rejectUnauthorized: false,
        agent: false,
        timeout: TIMEOUT_MS,
        headers: body === undefined ? {} : { 'content-type': YANG_JSON },
      },
      (response) => {
        const chunks: Buffer[] = []
        let size = 0
        response
          .on('data', (chunk: Buffer) => {
            size += chunk.length
            if (size > MOST_BYTES) asked.destroy()
            else chunks.push(chunk)
          })
          .on('error', nobody)
          .on('close', nobody)
          .on('end', () => {
            const bytes = new Uint8Array(Buffer.concat(chunks))
            const isJson = response.headers['content-type'] === YANG_JSON && bytes.length > 0
            resolve({
              status: response.statusCode ?? 0,
              bytes,
              body: isJson ? JSON.parse(new TextDecoder().decode(bytes)) : null,
            })
          })
      },
    )
    asked.on('error', nobody).on('timeout', () => asked.destroy())
    asked.end(body === undefined ? undefined : JSON.stringify(body))
  })
