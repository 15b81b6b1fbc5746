/**
 * Whether a request comes from a page of another origin, by what browsers say (Fetch Standard,
 * `Origin` and `Sec-Fetch-Site`). Programs say neither. Pages elsewhere
 * may not even read: a picture that points here makes a browser ask with whatever it is signed in
 * with.
 */
export function isCrossSite(
  method: string,
  host: string | undefined,
  origin: string | undefined,
  fetchSite: string | undefined,
): boolean {
  if (fetchSite !== undefined && !['same-origin', 'none'].includes(fetchSite)) return true
  if (['GET', 'HEAD'].includes(method)) return false
  // A page without an origin of its own, such as a sandboxed frame, says 'null'.
  return origin !== undefined && (!URL.canParse(origin) || new URL(origin).host !== host)
}
