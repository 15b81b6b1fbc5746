/**
 * How the provider really hands its line over, as far as the plan has it right. Addresses are
 * documentation or shared space.
 */
import type { HandOff } from '@mast/core/plan'
import type { LineTruth } from '../devices/provider'
import { toNumber } from '../frames/frame'

export function lineTruth(h: HandOff | undefined, password: string | null = null): LineTruth {
  const tag = typeof h?.vlan === 'number' ? h.vlan : null
  const pinned =
    h?.pinnedHardwareAddress && h.pinnedHardwareAddress !== 'none' ? h.pinnedHardwareAddress : null
  // What a frame of Ethernet leaves (RFC 2516 7), or what the provider said of its line where that
  // is less.
  const most = h?.mode === 'pppoe' ? 1492 : 1500
  const mtu = Math.min(h?.mtu ?? most, most)
  const isPublic =
    h?.addressKind !== 'private' && h?.addressKind !== 'carrier-grade' && h?.mode !== 'cellular'
  if (h?.mode === 'fixed' && h.address) {
    const [address, length] = h.address.split('/') as [string, string]
    return {
      tag,
      pinned,
      isPublic,
      mtu,
      account: null,
      mode: 'fixed',
      customer: toNumber(address),
      length: Number(length),
      own: h.gateway ? toNumber(h.gateway) : toNumber(address) + 1,
    }
  }
  if (h?.mode === 'pppoe') {
    const [own, customer] =
      h.addressKind === 'carrier-grade'
        ? (['100.64.7.1', '100.64.7.20'] as const)
        : (['203.0.113.1', '203.0.113.80'] as const)
    return {
      tag,
      pinned,
      isPublic,
      mtu,
      account: { user: h.pppoeUser ?? '', password: password ?? '' },
      mode: 'pppoe',
      own: toNumber(own),
      customer: toNumber(customer),
      length: 32,
    }
  }
  // A cellular router hands addresses of its own LAN to the gateway behind it.
  if (h?.addressKind === 'private' || h?.mode === 'cellular') {
    const lan = h.providerLan && h.providerLan !== 'none' ? h.providerLan : '192.168.1.0/24'
    const [network, length] = lan.split('/') as [string, string]
    return {
      tag,
      pinned,
      isPublic,
      mtu,
      account: null,
      mode: 'automatic',
      own: toNumber(network) + 1,
      customer: toNumber(network) + 20,
      length: Number(length),
    }
  }
  const [own, customer, length] =
    h?.addressKind === 'carrier-grade'
      ? (['100.64.7.1', '100.64.7.20', 24] as const)
      : (['203.0.113.65', '203.0.113.80', 26] as const)
  return {
    tag,
    pinned,
    isPublic,
    mtu,
    account: null,
    mode: 'automatic',
    own: toNumber(own),
    customer: toNumber(customer),
    length,
  }
}
