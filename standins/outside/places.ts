/** Documentation addresses (RFC 5737), so that nothing here can be mistaken for somebody's. */
import { toNumber } from '../frames/frame'

export const INTERNET_HOST = toNumber('198.51.100.80')
export const INTERNET_NAMES = toNumber('198.51.100.53')
/** A controller that somebody runs for many sites. */
export const INTERNET_CONTROLLER = toNumber('198.51.100.43')
/** Where a device from its box asks who waits for it. */
export const INTERNET_MEETING_POINT = toNumber('198.51.100.44')
export const INTERNET_NAME = 'www.example.net'

/**
 * Ends of tunnels that call. A gateway takes nothing from space that is nobody's (RFC 6890), so there
 * are few: of many, some share the address of one router.
 */
const CALLERS_FROM = toNumber('198.51.100.100')
const CALLERS = 100
export const callerPlace = (nth: number): number => CALLERS_FROM + (nth % CALLERS)
/** Of those who share an address each has ports of its own. */
const PORTS_FROM = 30_000
const PORTS = 1500
export const callerPorts = (nth: number): { first: number; last: number } => {
  const first = PORTS_FROM + PORTS * Math.floor(nth / CALLERS)
  return { first, last: first + PORTS - 1 }
}
/** Ends that are called. */
const CALLED_FROM = toNumber('192.0.2.150')
export const calledPlace = (nth: number): number => CALLED_FROM + (nth % CALLERS)
/** Routers of providers that translate. */
const TRANSLATORS_FROM = toNumber('192.0.2.130')
export const translatorPlace = (nth: number): number => TRANSLATORS_FROM + nth
