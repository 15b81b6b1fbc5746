/** The ends here of WireGuard tunnels, as wg-quick(8) reads them, without their private keys. */
import { tunnelInterface } from '../plan'
import { ownFile, reckonTunnel, writeTunnelFile } from '../tunnels'
import { defineFormat } from './format'

export const wireguard = defineFormat({
  id: 'wireguard',
  title: 'WireGuard (ends here)',
  sheet: 'tunnels',
  files: 'wgN.conf for wg-quick, without private and shared keys',
  mediaType: 'text/plain',
  write: ({ model }): Record<string, string> =>
    Object.fromEntries(
      Object.values(model.plan.tunnels)
        .filter((t) => t.isActive && t.protocol === 'wireguard')
        .map((t) => [
          `${tunnelInterface(model.plan, t.id)}.conf`,
          // Routes are of a file of their own: a provider's would take everything.
          writeTunnelFile(ownFile(reckonTunnel(model, t), {})).replace(
            '[Interface]\n',
            '[Interface]\nTable = off\n',
          ),
        ]),
    ),
  nothing: 'the plan has no tunnel of WireGuard that is switched on',
})
