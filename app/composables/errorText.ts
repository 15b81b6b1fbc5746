import { refusal } from '@mast/api'

/** The sentence of a failed request that a person can act on. */
export function errorText(error: unknown): string {
  const { data, status, message } = error as { data?: unknown; status?: number; message?: string }
  const said = refusal.safeParse(data).data
  const [problem] = said?.data?.problems ?? []
  if (problem) return problem.reason
  if (said) return said.message
  if (status === undefined)
    return 'The server does not answer; look at the connection and try again.'
  return status < 300 && message ? message : 'The server refused this.'
}
