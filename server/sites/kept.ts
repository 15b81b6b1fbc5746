/**
 * What was read or made of the revisions of sites: a few of each site, so that one that is edited
 * all the time does not push out the others.
 */
export class KeptRevisions<T> {
  /** By site and number; both in the order of their last use. */
  private readonly sites = new Map<string, Map<number, T>>()
  constructor(
    private readonly mostSites: number,
    private readonly mostOfASite: number,
  ) {}

  get(siteId: string, number: number): T | undefined {
    const value = this.sites.get(siteId)?.get(number)
    if (value !== undefined) this.keep(siteId, number, value)
    return value
  }

  keep(siteId: string, number: number, value: T): T {
    const ofSite = this.sites.get(siteId) ?? new Map<number, T>()
    ofSite.delete(number)
    ofSite.set(number, value)
    if (ofSite.size > this.mostOfASite) ofSite.delete(ofSite.keys().next().value!)
    this.sites.delete(siteId)
    this.sites.set(siteId, ofSite)
    if (this.sites.size > this.mostSites) this.sites.delete(this.sites.keys().next().value!)
    return value
  }

  /** The revision of a site nearest to a number, within a distance. */
  nearest(
    siteId: string,
    number: number,
    within: number,
  ): { number: number; value: T } | undefined {
    let best: { number: number; value: T } | undefined
    for (const [n, value] of this.sites.get(siteId) ?? [])
      if (
        Math.abs(n - number) <= within &&
        (!best || Math.abs(n - number) < Math.abs(best.number - number))
      )
        best = { number: n, value }
    return best
  }
}
