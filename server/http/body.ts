/** Reading of request bodies with bounds on size and time. */
import type { IncomingMessage } from 'node:http'
import { createError, isError, type H3Event } from 'h3'
import { parseJson } from '../given/json'

export interface Bounds {
  readonly maxBytes: number
  readonly maxMs: number
}

/**
 * @throws 413 beyond the size, 408 beyond the time, 415 where it does not say that it is what is wanted. What
 * is left of a body that is refused is waited for a moment at the most.
 */
export async function readOctets(
  event: H3Event,
  bounds: Bounds,
  mediaType = 'application/json',
): Promise<Buffer> {
  const { req: request, res: response } = event.node
  try {
    if (Number(request.headers['content-length'] ?? 0) > bounds.maxBytes) throw tooLarge(bounds)
    const octets = await collected(request, bounds)
    const [said] = (request.headers['content-type'] ?? '').split(';', 1)
    if (said!.trim().toLowerCase() !== mediaType)
      throw createError({ statusCode: 415, message: `send ${mediaType}` })
    return octets
  } catch (error) {
    // Who is still writing when the connection goes hears of a reset and not of the answer (RFC
    // 9112 9.6).
    if (isError(error) && error.statusCode === 413) await letItFinish(request)
    if (!request.complete && !response.headersSent) {
      response.setHeader('connection', 'close')
      response.once('close', () => request.destroy())
    }
    throw error
  }
}

/** How long what nobody wants is read and thrown away before the answer, ms. */
const LINGER_MS = 1000

function letItFinish(request: IncomingMessage): Promise<void> {
  return new Promise((resolve) => {
    const over = (): void => {
      clearTimeout(timer)
      request.pause()
      resolve()
    }
    const timer = setTimeout(over, LINGER_MS)
    request.once('end', over).once('error', over).once('close', over).resume()
  })
}

const tooLarge = ({ maxBytes }: Bounds): Error =>
  createError({ statusCode: 413, message: `at most ${maxBytes} octets` })

/**
 * By events rather than by iteration, which would end the connection before the answer is on it.
 */
function collected(request: IncomingMessage, bounds: Bounds): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = []
    let size = 0
    const end = (error: Error | undefined): void => {
      clearTimeout(timer)
      for (const [name, listener] of listeners) request.off(name, listener)
      request.pause()
      if (error) reject(error)
      else resolve(Buffer.concat(chunks))
    }
    const cutOff = (): void =>
      end(createError({ statusCode: 400, message: 'the body was cut off' }))
    const listeners: [string, (chunk: Buffer) => void][] = [
      [
        'data',
        (chunk) => {
          size += chunk.length
          if (size > bounds.maxBytes) end(tooLarge(bounds))
          else chunks.push(chunk)
        },
      ],
      ['end', () => end(undefined)],
      ['error', cutOff],
      ['close', cutOff],
    ]
    const timer = setTimeout(
      () => end(createError({ statusCode: 408, message: 'the body took too long' })),
      bounds.maxMs,
    )
    for (const [name, listener] of listeners) request.on(name, listener)
  })
}

export const readJson = async (event: H3Event, bounds: Bounds): Promise<unknown> =>
  parseJson(await readOctets(event, bounds))
