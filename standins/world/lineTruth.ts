/**
 * How the provider really hands its line over, as far as the plan has it right. Addresses are
 * documentation or shared space.
 */
import type { Uplink } from '@mast/core/plan'
import type { LineTruth } from '../devices/provider'
import { isAddress, toNumber } from '../frames/frame'
import { translatorPlace } from '../outside/places'

/** @param nth of the lines of the site: two providers do not give the same address */
export function lineTruth(
  line: Uplink,
  nth: number,
  password: string | null = null,
  /** UDP ports that the provider's own router was told to pass on. */
  passedOn: readonly number[] = [],
): LineTruth {
  const h = line.handOff
  const asked = line.watch?.tests.map((t) => t.target) ?? []
  const known = {
    names: asked.filter((t) => !isAddress(t)),
    // Their own router is asked as itself; nobody else is in private space.
    addresses: asked.filter(isAddress).map(toNumber),
  }
  const pinned =
    h.pinnedHardwareAddress && h.pinnedHardwareAddress !== 'none' ? h.pinnedHardwareAddress : null
  // What a frame of Ethernet leaves (RFC 2516 7), or what the provider said of its line where that
  // is less.
  const most = h.mode === 'pppoe' ? 1492 : 1500
  const isPublic =
    h.addressKind !== 'private' && h.addressKind !== 'carrier-grade' && h.mode !== 'cellular'
  const truth = {
    translator: isPublic ? null : translatorPlace(nth),
    // Behind carrier-grade translation nobody is asked to.
    passesOn: h.addressKind === 'private' ? passedOn : [],
    shutPorts: [],
    isPublic,
    tag: typeof h.vlan === 'number' ? h.vlan : null,
    pinned,
    mtu: Math.min(h.mtu ?? most, most),
    startSeconds: line.startSeconds ?? 0,
    known,
    account: null,
  }
  if (h.mode === 'fixed' && h.address) {
    const [address, length] = h.address.split('/') as [string, string]
    return {
      ...truth,
      mode: 'fixed',
      customer: toNumber(address),
      length: Number(length),
      own: h.gateway ? toNumber(h.gateway) : toNumber(address) + 1,
    }
  }
  const carrierGrade = toNumber('100.64.7.0') + 256 * nth
  if (h.mode === 'pppoe') {
    const [own, customer] =
      h.addressKind === 'carrier-grade'
        ? [carrierGrade + 1, carrierGrade + 20]
        : nth === 0
          ? [toNumber('203.0.113.1'), toNumber('203.0.113.80')]
          : [toNumber('192.0.2.1'), toNumber('192.0.2.80') + 2 * nth]
    return {
      ...truth,
      account: { user: h.pppoeUser ?? '', password: password ?? '' },
      mode: 'pppoe',
      own,
      customer,
      length: 32,
    }
  }
  // A cellular router hands addresses of its own LAN to the gateway behind it.
  if (h.addressKind === 'private' || h.mode === 'cellular') {
    const lan =
      h.providerLan && h.providerLan !== 'none' ? h.providerLan : `192.168.${1 + nth}.0/24`
    const [network, length] = lan.split('/') as [string, string]
    return {
      ...truth,
      mode: 'automatic',
      own: toNumber(network) + 1,
      customer: toNumber(network) + 20,
      length: Number(length),
    }
  }
  if (h.addressKind === 'carrier-grade')
    return {
      ...truth,
      mode: 'automatic',
      own: carrierGrade + 1,
      customer: carrierGrade + 20,
      length: 24,
    }
  const network = nth < 3 ? toNumber('203.0.113.64') + 64 * nth : toNumber('192.0.2.0') + 16 * nth
  const length = nth < 3 ? 26 : 28
  return {
    ...truth,
    mode: 'automatic',
    own: network + 1,
    customer: network + (nth < 3 ? 16 : 4),
    length,
  }
}
