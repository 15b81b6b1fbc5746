/** Reading of request bodies with bounds on size and time. */
import { createError, type H3Event } from 'h3'
import type { z } from 'zod'

export interface Bounds { readonly maxBytes: number; readonly maxMs: number }

/** @throws 413 beyond the size, 408 beyond the time, 400 where it is not JSON. */
export async function readJson(event: H3Event, { maxBytes, maxMs }: Bounds): Promise<unknown> {
  const request = event.node.req
  if (Number(request.headers['content-length'] ?? 0) > maxBytes) throw createError({ statusCode: 413, message: `at most ${maxBytes} octets` })
  const chunks: Buffer[] = []
  let size = 0
  let late = false
  const timer = setTimeout(() => { late = true; request.destroy() }, maxMs)
  try {
    for await (const chunk of request) {
      size += (chunk as Buffer).length
      if (size > maxBytes) throw createError({ statusCode: 413, message: `at most ${maxBytes} octets` })
      chunks.push(chunk as Buffer)
    }
  } catch (error) {
    if (late) throw createError({ statusCode: 408, message: 'the body took too long' })
    throw error
  } finally {
    clearTimeout(timer)
  }
  if (!/^application\/json\b/.test(request.headers['content-type'] ?? '')) throw createError({ statusCode: 415, message: 'send application/json' })
  try {
    return JSON.parse(Buffer.concat(chunks).toString('utf8'))
  } catch {
    throw createError({ statusCode: 400, message: 'the body is not JSON' })
  }
}

export function validated<T>(schema: z.ZodType<T>, value: unknown): T {
  const result = schema.safeParse(value)
  if (result.success) return result.data
  throw createError({
    statusCode: 400, message: 'the request is not valid',
    data: { problems: result.error.issues.slice(0, 20).map((i) => ({ path: i.path, reason: i.message })) },
  })
}
