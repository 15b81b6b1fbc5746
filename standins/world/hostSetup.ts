/**
 * What somebody set a host up with: its address, what it answers to, the leases that it hands out
 * for others, the network that it joins.
 */
import { tellingPorts, type Device, type Segment, type SitePlan } from '@mast/core/plan'
import type { WorldDescription } from '../control/messages'
import { typedAddress, type HostSetup } from '../devices/hostBox'
import { toNumber } from '../frames/frame'
import { readTunnelFile } from '../outside/tunnelFile'
import { carriedTunnels } from './peerTruth'

/** A segment as its DHCP server elsewhere was set up: as the plan says. */
function scopeOf(plan: SitePlan, s: Segment, own: string): HostSetup['scopes'][number] {
  const [network, length] = s.subnet!.split('/') as [string, string]
  const router = s.gateway ? toNumber(s.gateway) : null
  const reserved = Object.values(plan.devices).filter(
    (d) =>
      d.addressing.mode === 'reserved' &&
      d.addressing.segmentId === s.id &&
      d.addressing.address &&
      d.hardwareAddress,
  )
  return {
    own: toNumber(own),
    network: toNumber(network),
    pools: s.pools.map((p) => ({ first: toNumber(p.first), last: toNumber(p.last) })),
    reservations: new Map(
      reserved.map((d) => [d.hardwareAddress!, toNumber(d.addressing.address!)]),
    ),
    options: {
      length: Number(length),
      router,
      nameServer: s.options.nameServers[0] ? toNumber(s.options.nameServers[0]) : router,
      leaseSeconds: s.leaseSeconds,
      vendor: null,
    },
  }
}

/** The tunnels that end on a host, each by the file that it was given. */
function tunnelsOn(
  plan: SitePlan,
  deviceId: string,
  files: WorldDescription['tunnelFiles'],
): HostSetup['tunnels'] {
  return carriedTunnels(plan).flatMap((t) => {
    const text = t.hostDeviceId === deviceId ? files?.[t.id] : undefined
    if (!t.publicKey || text === undefined) return []
    const { peers, mtu, listenPort } = readTunnelFile(text)
    return listenPort === null
      ? []
      : {
          ...{ id: t.id, identity: t.publicKey, mtu, port: listenPort },
          peers: peers.map((p) => ({ ...p, name: p.publicKey, endpoint: null })),
        }
  })
}

/** A locally administered address from the id, for what the plan has none of. */
export function inventedAddress(id: string): string {
  let hash = 2166136261
  for (const ch of id) hash = Math.imul(hash ^ ch.charCodeAt(0), 16777619) >>> 0
  return [
    '06',
    '00',
    ...[24, 16, 8, 0].map((s) => ((hash >>> s) & 255).toString(16).padStart(2, '0')),
  ].join(':')
}

/** Where a controller answers devices. */
export const controllerPorts = ({ controller }: SitePlan): number[] => [
  controller.port,
  ...(controller.bootstrap ? [controller.bootstrap.port] : []),
]

export function hostSetup(
  {
    plan,
    keys,
    pagePasswords,
    tunnelFiles,
  }: Pick<WorldDescription, 'plan' | 'keys' | 'pagePasswords' | 'tunnelFiles'>,
  device: Device,
): HostSetup {
  const { mode, address, gateway, segmentId } = device.addressing
  const network = device.wirelessNetworkId
    ? plan.wirelessNetworks[device.wirelessNetworkId]
    : undefined
  const portsOf = (protocol: 'tcp' | 'udp'): number[] =>
    device.serviceIds.flatMap((s) =>
      plan.services[s]?.protocol === protocol ? tellingPorts(plan.services[s].ports, []) : [],
    )
  return {
    mac: device.hardwareAddress ?? inventedAddress(device.id),
    bootSeconds: plan.profiles[device.profileId]!.waits.bootSeconds,
    ports: [
      ...portsOf('tcp'),
      ...(plan.controller.hostDeviceId === device.id ? controllerPorts(plan) : []),
    ],
    udpPorts: portsOf('udp'),
    fixed:
      mode === 'fixed' && address
        ? typedAddress(address, segmentId ? plan.segments[segmentId]!.subnet : null, gateway)
        : null,
    tunnels: tunnelsOn(plan, device.id, tunnelFiles),
    scopes: address
      ? Object.values(plan.segments)
          .filter((s) => s.dhcp.mode === 'relay' && s.dhcp.relayTo === address && s.subnet)
          .map((s) => scopeOf(plan, s, address))
      : [],
    radio: network
      ? {
          networkName: network.name,
          key: network.security === 'open' ? null : (keys[network.id] ?? null),
          pagePassword: pagePasswords?.[network.id] ?? null,
        }
      : null,
  }
}
