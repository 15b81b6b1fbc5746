/**
 * Who stands at the other ends of a site's tunnels: with the file that each was given, a key of its
 * own, and a line somewhere outside.
 */
import {
  activeTunnels,
  endsOnGateway,
  ownTunnelAddress,
  peersOf,
  type Peer,
  type SitePlan,
  type Tunnel,
} from '@mast/core/plan'
import type { WorldDescription } from '../control/messages'
import { isAddress, toNumber } from '../frames/frame'
import { calledPlace, callerPlace, callerPorts } from '../outside/places'
import type { PeerTruth } from '../outside/peerBox'
import { readIkeFile } from '../outside/swanctlFile'
import { readTunnelFile } from '../outside/tunnelFile'
import { publicHalf } from '../tunnels/identity'
import { IKE_PORT, IKE_PORT_TRANSLATED } from '../tunnels/ikeEnd'
import { spansIn } from '../tunnels/span'

/** Tunnels that the stand-ins carry: all but IKEv2 on a host. */
export const carriedTunnels = (plan: SitePlan): Tunnel[] =>
  activeTunnels(plan).filter((t) => t.protocol === 'wireguard' || endsOnGateway(plan, t))

/** Ports that the provider's own router was told to lead to the site. */
export const passedOnPorts = (plan: SitePlan): number[] =>
  carriedTunnels(plan).flatMap((t) => {
    if (t.isPassedOn !== true) return []
    if (t.protocol === 'ikev2') return [IKE_PORT, IKE_PORT_TRANSLATED]
    if (t.listenPort === null) return []
    if (endsOnGateway(plan, t)) return [t.listenPort]
    const { listenPort } = t
    return Object.values(plan.forwards).flatMap((f) => {
      const nth = listenPort - f.inside
      const isIn = nth >= 0 && nth <= f.outside.last - f.outside.first
      return f.deviceId === t.hostDeviceId && isIn ? [f.outside.first + nth] : []
    })
  })

/**
 * @param named told under which name each that is called is found
 */
export function peerTruths(
  { plan, tunnelFiles }: Pick<WorldDescription, 'plan' | 'tunnelFiles'>,
  named: (host: string, address: number) => void,
): PeerTruth[] {
  const all = carriedTunnels(plan).flatMap((t) => peersOf(plan, t.id).map((p) => ({ t, p })))
  return all.flatMap(({ t, p }, nth) => {
    const text = tunnelFiles?.[p.id]
    const truth =
      t.protocol === 'ikev2' ? ikeTruth(plan, t, p, nth, text) : truthOf(plan, t, p, nth, text)
    if (truth && p.endpoint && !isAddress(p.endpoint.host)) named(p.endpoint.host, truth.outside)
    return truth ?? []
  })
}

const placeCalled = (host: string, nth: number): number =>
  isAddress(host) ? toNumber(host) : calledPlace(nth)

/** Where it stands outside and what lies behind it, whatever it speaks. */
function standing(
  { controller: { elsewhere, port } }: SitePlan,
  { id, endpoint, networks }: Peer,
  nth: number,
): Pick<PeerTruth, 'id' | 'outside' | 'ports' | 'isTranslated' | 'carries' | 'behind' | 'answers'> {
  return {
    id,
    outside: endpoint ? placeCalled(endpoint.host, nth) : callerPlace(nth),
    ports: callerPorts(nth),
    isTranslated: endpoint === null,
    carries: 1500,
    behind: spansIn(networks),
    // The controller of another site, where this one's devices call it.
    answers: elsewhere?.peerId === id ? [{ address: toNumber(elsewhere.address), port }] : [],
  }
}

/** Of Ethernet over IPv4, less what ESP adds. */
const IKE_MTU = 1400

/** A daemon that somebody else set up: as the file for it says. */
function ikeTruth(
  plan: SitePlan,
  t: Tunnel,
  p: Peer,
  nth: number,
  text: string | undefined,
): PeerTruth | undefined {
  const ike = text === undefined ? undefined : readIkeFile(text)
  if (!ike) return undefined
  const at = standing(plan, p, nth)
  const [first] = at.behind
  return {
    ...at,
    identity: ike.localId,
    inner: first ? first.network + 1 : p.address ? toNumber(p.address) : null,
    nameServer: null,
    mtu: IKE_MTU,
    here: {
      ...{ name: t.name, publicKey: '', sharedKey: null, endpoint: null, keepaliveSeconds: 0 },
      allowed: ike.remote,
    },
    ike,
    listensAt: null,
    isExit: false,
  }
}

function truthOf(
  plan: SitePlan,
  t: Tunnel,
  p: Peer,
  nth: number,
  text: string | undefined,
): PeerTruth | undefined {
  if (!p.publicKey || !t.publicKey) return undefined
  const file = text === undefined ? undefined : readTunnelFile(text)
  const isExit = t.kind === 'provider'
  const [asked] = file?.peers ?? []
  const inner = isExit
    ? null
    : p.address
      ? toNumber(p.address)
      : (file?.addresses[0]?.network ?? null)
  const own = ownTunnelAddress(t)
  return {
    ...standing(plan, p, nth),
    identity: (file?.privateKey ? publicHalf(file.privateKey) : null) ?? p.publicKey,
    inner,
    nameServer: file?.nameServers[0] ? toNumber(file.nameServers[0]) : null,
    mtu: file?.mtu ?? 1420,
    here: {
      name: t.name,
      publicKey: asked?.publicKey || t.publicKey,
      sharedKey: asked?.sharedKey ?? null,
      // The server of a provider knows its customer by the address that it gave out.
      allowed: isExit ? spansIn([t.subnet ?? '']) : (asked?.allowed ?? spansIn(own ? [own] : [])),
      endpoint: p.endpoint ? null : (asked?.endpoint ?? null),
      keepaliveSeconds: asked?.keepaliveSeconds ?? 0,
    },
    ike: null,
    listensAt: p.endpoint?.port ?? null,
    isExit,
  }
}
