/** The server's routes, with errors that tell an answer from no answer. */
import { pathOf, type Asked, type Endpoint, type Reply } from '@mast/api'
import { errorText } from './errorText'

/**
 * A server that has too much to do at the moment says so (503); what is only read is asked for
 * again before anybody is told.
 */
const AGAIN = { retry: 3, retryDelay: 600, retryStatusCodes: [503] }
/** An answer is an answer also where this page does not know what it says. */
const ANSWERED = 200

/**
 * Asks a route what its endpoint describes, and checks what it answers.
 * @throws an error with the `status` of the answer, or without one where there was none
 */
export async function ask<E extends Endpoint>(
  e: E,
  asked: Asked<E>,
  { timeoutMs }: { readonly timeoutMs?: number } = {},
): Promise<Reply<E>> {
  let answer: unknown
  try {
    // The routes' own types are deeper than the compiler goes; the endpoint says what is read.
    answer = await ($fetch as (url: string, o: object) => Promise<unknown>)(pathOf(e, asked), {
      method: e.method,
      body: asked.body,
      ...(e.method === 'GET' ? AGAIN : { retry: 0 }),
      ...(timeoutMs ? { timeout: timeoutMs } : {}),
    })
  } catch (error) {
    const { status, data } = error as { status?: number; data?: unknown }
    throw Object.assign(new Error(errorText(error)), { status, data })
  }
  const read = e.reply?.safeParse(answer)
  if (read && !read.success)
    throw Object.assign(
      new Error('The server answered what this page does not know. Load the page again.'),
      { status: ANSWERED, cause: read.error },
    )
  return read?.data as Reply<E>
}

/**
 * Somebody on a roof with half a bar of signal is not made to wait longer for what is kept here.
 */
export const READ_TIMEOUT_MS = 8000
