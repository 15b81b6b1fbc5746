/** The server's routes, with errors that tell an answer from no answer. */
type Method = 'GET' | 'POST' | 'PUT' | 'DELETE'

/**
 * A server that has too much to do at the moment says so (503); what is only read is asked for
 * again before anybody is told.
 */
const AGAIN = { retry: 3, retryDelay: 600, retryStatusCodes: [503] }

/** @throws an error with the `status` of the answer, or without one where there was none. */
export async function ask<T>(
  path: string,
  options: { method?: Method; body?: object; timeoutMs?: number } = {},
): Promise<T> {
  const { method = 'GET', body, timeoutMs } = options
  try {
    // The routes' own types are deeper than the compiler goes; what is read is named at each call.
    return await ($fetch as (url: string, o: object) => Promise<T>)(path, {
      method,
      body,
      ...(method === 'GET' ? AGAIN : { retry: 0 }),
      ...(timeoutMs ? { timeout: timeoutMs } : {}),
    })
  } catch (error) {
    const { status, data } = error as { status?: number; data?: unknown }
    throw Object.assign(new Error(errorText(error)), { status, data })
  }
}

/**
 * Somebody on a roof with half a bar of signal is not made to wait longer for what is kept here.
 */
export const READ_TIMEOUT_MS = 8000
