/** Whether a request that changes something comes from a page of another origin, by what browsers say (Fetch Standard, `Origin` and `Sec-Fetch-Site`). Programs say neither. */
export function isCrossSite(method: string, host: string | undefined, origin: string | undefined, fetchSite: string | undefined): boolean {
  if (['GET', 'HEAD'].includes(method)) return false
  if (fetchSite !== undefined && !['same-origin', 'none'].includes(fetchSite)) return true
  // A page without an origin of its own, such as a sandboxed frame, says 'null'.
  return origin !== undefined && (!URL.canParse(origin) || new URL(origin).host !== host)
}
