/** Documentation addresses (RFC 5737), so that nothing here can be mistaken for somebody's. */
import { toNumber } from '../frames/frame'

export const INTERNET_HOST = toNumber('198.51.100.80')
export const INTERNET_NAMES = toNumber('198.51.100.53')
export const INTERNET_NAME = 'www.example.net'

/** Ends of tunnels outside, in the space for tests between networks (RFC 2544). */
const PEERS_FROM = toNumber('198.18.0.1')
export const peerPlace = (nth: number): number => PEERS_FROM + 256 * nth
/** Routers of providers that translate. */
const TRANSLATORS_FROM = toNumber('198.19.0.1')
export const translatorPlace = (nth: number): number => TRANSLATORS_FROM + 256 * nth
