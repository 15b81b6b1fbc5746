/**
 * What goes through tunnels on a Linux gateway, for `ip -batch` (ip-route(8), ip-rule(8)): networks
 * behind them, and the hosts that leave by a tunnel to a provider, with what becomes of them while it
 * is down.
 */
import { own, throughPrefixes, tunnelInterface, tunnelSpace } from '../plan'
import type { SiteModel } from '../topology'
import { reckonedTunnels } from '../tunnels/reckoned'
import { defineFormat } from './format'

/** Tables of tunnels to providers, and their rules: before those of lines. */
const FIRST_TABLE = 200
const FIRST_RULE = 800

const plain = (text: string): string => text.replace(/[^\x20-\x7e]/g, ' ')

export function writeTunnelRoutes(model: SiteModel): Record<string, string> {
  const { plan } = model
  const all = reckonedTunnels(model)
  const out: string[] = []
  const away: string[] = []
  for (const { tunnel, isOnGateway } of all) {
    if (tunnel.kind === 'provider') continue
    const host = own(plan.devices, tunnel.hostDeviceId)?.addressing.address
    const way = isOnGateway ? `dev ${tunnelInterface(plan, tunnel.id)}` : host && `via ${host}`
    // Its own network comes with the address of the interface.
    const networks = tunnelSpace(plan, tunnel).filter(
      (n) => !n.includes(':') && !(isOnGateway && n === tunnel.subnet),
    )
    for (const n of way ? networks : []) {
      out.push(`route replace ${n} ${way}`)
      away.push(`route del ${n}`)
    }
  }
  const rules: string[] = []
  const rule = (text: string): void => void rules.push(`pref ${FIRST_RULE + rules.length} ${text}`)
  const providers = all.filter((r) => r.tunnel.kind === 'provider' && r.isOnGateway)
  for (const [n, { tunnel }] of providers.entries()) {
    const sources = throughPrefixes(plan, tunnel)
    if (sources.length === 0) continue
    const table = FIRST_TABLE + n
    // Networks inside come first; of the main table the default route is left out.
    if (rules.length === 0) rule('lookup main suppress_prefixlength 0')
    out.push(`# ${plain(tunnel.name)}`)
    out.push(`route replace default dev ${tunnelInterface(plan, tunnel.id)} table ${table}`)
    away.push(`route flush table ${table}`)
    for (const s of sources) {
      rule(`from ${s} lookup ${table}`)
      // A tunnel that is switched off takes its route along.
      if (tunnel.whenDown === 'blocked') rule(`from ${s} unreachable`)
    }
  }
  if (out.length === 0) return {}
  return {
    'tunnels.batch': [
      `# ${plain(plan.site.name)}: load it with ip -batch when the tunnels are up;`,
      '# tunnels-away.batch takes it out again.',
      ...out,
      ...rules.map((r) => `rule add ${r}`),
      '',
    ].join('\n'),
    'tunnels-away.batch': [
      ...rules.map((_, n) => `rule del pref ${FIRST_RULE + n}`),
      ...away,
      '',
    ].join('\n'),
  }
}

export const tunnelRoutes = defineFormat({
  id: 'tunnel-routes',
  title: 'Linux routes (tunnels)',
  sheet: 'tunnels',
  files: 'tunnels.batch for ip -batch, and what takes it out again',
  mediaType: 'text/plain',
  write: ({ model }: { model: SiteModel }) => writeTunnelRoutes(model),
  nothing: 'no network lies behind a tunnel, and nobody leaves by one',
})
