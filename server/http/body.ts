/**
 * Reading of request bodies with bounds on size, time and depth. What PostgreSQL cannot hold as
 * text does not come in.
 */
import type { IncomingMessage } from 'node:http'
import { createError, isError, type H3Event } from 'h3'
import type { z } from 'zod'
import { isPlainText } from './text'

export interface Bounds {
  readonly maxBytes: number
  readonly maxMs: number
}

/** No request of ours is nested deeper; what walks a body may do so without looking. */
const MAX_DEPTH = 64

/**
 * @throws 413 beyond the size, 408 beyond the time, 415 where it does not say that it is JSON. What
 * is left of a body that is refused is waited for a moment at the most.
 */
export async function readOctets(event: H3Event, bounds: Bounds): Promise<Buffer> {
  const { req: request, res: response } = event.node
  try {
    if (Number(request.headers['content-length'] ?? 0) > bounds.maxBytes) throw tooLarge(bounds)
    const octets = await collected(request, bounds)
    if (!/^application\/json\b/.test(request.headers['content-type'] ?? ''))
      throw createError({ statusCode: 415, message: 'send application/json' })
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

/**
 * @throws 400 where it is not UTF-8, not JSON, nested too deep, or has text that nothing can keep.
 */
export function parseJson(octets: Uint8Array): unknown {
  const refuse = (message: string): never => {
    throw createError({ statusCode: 400, message })
  }
  let text: string
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(octets)
  } catch {
    return refuse('the body is not UTF-8')
  }
  if (depthOf(text) > MAX_DEPTH) return refuse(`the body is nested deeper than ${MAX_DEPTH}`)
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    return refuse('the body is not JSON')
  }
  // Only an escape can bring in what UTF-8 cannot.
  if (text.includes('\\u') && !hasPlainTextOnly(value))
    return refuse('a text in the body has a NUL or half a character (a lone surrogate)')
  return value
}

export const readJson = async (event: H3Event, bounds: Bounds): Promise<unknown> =>
  parseJson(await readOctets(event, bounds))

/** How deep brackets open, outside of strings. */
function depthOf(text: string): number {
  let depth = 0
  let most = 0
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i)
    if (c === 0x22) {
      for (i++; i < text.length; i++) {
        const s = text.charCodeAt(i)
        if (s === 0x5c) i++
        else if (s === 0x22) break
      }
    } else if (c === 0x7b || c === 0x5b) {
      if (++depth > most) most = depth
    } else if (c === 0x7d || c === 0x5d) depth--
  }
  return most
}

function hasPlainTextOnly(value: unknown): boolean {
  if (typeof value === 'string') return isPlainText(value)
  if (Array.isArray(value)) return value.every(hasPlainTextOnly)
  if (typeof value === 'object' && value !== null)
    return Object.entries(value).every(([key, v]) => isPlainText(key) && hasPlainTextOnly(v))
  return true
}

export function validated<T>(schema: z.ZodType<T>, value: unknown): T {
  const result = schema.safeParse(value)
  if (result.success) return result.data
  throw createError({
    statusCode: 400,
    message: 'the request is not valid',
    data: {
      problems: result.error.issues.slice(0, 20).map((i) => ({ path: i.path, reason: i.message })),
    },
  })
}
