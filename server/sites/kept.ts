import { LRUCache } from 'lru-cache'

/**
 * What was read or made of the revisions of sites: a few of each site, so that one that is edited
 * all the time does not push out the others. What was not used for the longest goes first.
 */
export class KeptRevisions<T extends NonNullable<unknown>> {
  private readonly sites: LRUCache<string, LRUCache<number, T>>
  constructor(
    mostSites: number,
    private readonly mostOfASite: number,
  ) {
    this.sites = new LRUCache({ max: mostSites })
  }

  get(siteId: string, number: number): T | undefined {
    return this.sites.get(siteId)?.get(number)
  }

  keep(siteId: string, number: number, value: T): T {
    const ofSite = this.sites.get(siteId) ?? new LRUCache<number, T>({ max: this.mostOfASite })
    ofSite.set(number, value)
    this.sites.set(siteId, ofSite)
    return value
  }

  /** The revision of a site nearest to a number, within a distance. */
  nearest(
    siteId: string,
    number: number,
    within: number,
  ): { number: number; value: T } | undefined {
    let best: { number: number; value: T } | undefined
    for (const [n, value] of this.sites.get(siteId)?.entries() ?? [])
      if (
        Math.abs(n - number) <= within &&
        (!best || Math.abs(n - number) < Math.abs(best.number - number))
      )
        best = { number: n, value }
    return best
  }
}
