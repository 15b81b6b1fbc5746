/**
 * Guests who have passed the page of a network: what its access points tell each other, so that who
 * walks on need not pass it again.
 */
import type { EventQueue } from '../clock/eventQueue'
import { sameNetwork, toNumber, type Frame, type Mac } from '../frames/frame'

export class Guests {
  /** By network and hardware address: until when, s. */
  private readonly until = new Map<string, number>()

  constructor(private readonly queue: EventQueue) {}

  has(network: string, mac: Mac): boolean {
    return this.secondsLeft(network, mac) > 0
  }
  secondsLeft(network: string, mac: Mac): number {
    return Math.max(0, (this.until.get(`${network} ${mac}`) ?? 0) - this.queue.now)
  }
  pass(network: string, mac: Mac, minutes: number): void {
    this.until.set(`${network} ${mac}`, this.queue.now + 60 * minutes)
  }
  forget(network: string, mac: Mac): void {
    this.until.delete(`${network} ${mac}`)
  }
}

const NAMES = 53
const LEASES = 67

/** What a page lets through before it was passed: a lease, names, and what is said to be open. */
export function isBeforePage({ payload }: Frame, open: readonly string[]): boolean {
  if (payload.kind === 'arp') return true
  if (payload.kind !== 'ipv4') return false
  const { body, dst } = payload
  if (body.protocol === 'udp' && [LEASES, NAMES].includes(body.dstPort)) return true
  return open.some((prefix) => {
    const [network, length] = prefix.split('/') as [string, string]
    return !network.includes(':') && sameNetwork(dst, toNumber(network), Number(length))
  })
}
