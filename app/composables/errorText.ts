/** The sentence of a failed request that a person can act on. */
export function errorText(error: unknown): string {
  const e = error as {
    data?: {
      message?: string
      data?: { problems?: { path: (string | number)[]; reason: string }[] }
    }
    status?: number
    statusCode?: number
  }
  const [problem] = e.data?.data?.problems ?? []
  if (problem) return problem.reason
  if (e.data?.message) return e.data.message
  return e.status || e.statusCode
    ? 'The server refused this.'
    : 'The server does not answer; look at the connection and try again.'
}
