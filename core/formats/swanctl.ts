/** Tunnels of IKEv2 of a Linux gateway, as its daemon reads them; without their keys. */
import { ikeConnections, writeSwanctl } from '../tunnels'
import { defineFormat } from './format'

export const swanctl = defineFormat({
  id: 'swanctl',
  title: 'IKEv2 (swanctl)',
  sheet: 'tunnels',
  files: 'swanctl.conf, without the shared keys',
  mediaType: 'text/plain',
  write({ model }): Record<string, string> {
    const connections = ikeConnections(model.plan)
    return connections.length > 0 ? { 'swanctl.conf': writeSwanctl(connections) } : {}
  },
  nothing: 'no tunnel of IKEv2 has what both ends have to say alike yet',
})
