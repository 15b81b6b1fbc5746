/** The tunnels of a gateway as they run: their ends, and who leaves by them. */
import type { GatewayConfiguration } from '@mast/protocol'
import { isAddress, toNumber, type Ike, type Packet, type Sealed } from '../frames/frame'
import type { Router } from '../net/router'
import { publicHalf } from '../tunnels/identity'
import { IkeEnd, IKE_PORT_TRANSLATED } from '../tunnels/ikeEnd'
import { spansIn } from '../tunnels/span'
import { TunnelEnd, type Wire } from '../tunnels/tunnelEnd'

/** From where it calls, where it has no port of its own. */
const CALLS_FROM = 51_900

export class GatewayTunnels {
  private readonly byPort = new Map<number, TunnelEnd>()
  private readonly byZone = new Map<string, TunnelEnd | IkeEnd>()
  private readonly ofIke: IkeEnd[] = []

  constructor(
    private readonly router: Router,
    private readonly queue: ConstructorParameters<typeof TunnelEnd>[0],
    /** Public half of a key that was made on the device, by the zone. */
    private readonly ownKey: (zone: string) => string | null,
    private readonly names: () => number | null,
    private readonly random: () => number,
  ) {}

  bringUp({ tunnels }: Pick<GatewayConfiguration, 'tunnels'>): void {
    const exits: { -readonly [K in keyof Router['exits'][number]]: Router['exits'][number][K] }[] =
      []
    for (const [nth, t] of tunnels.entries()) {
      if (t.protocol === 'ikev2') {
        this.bringUpIke(t)
        continue
      }
      const identity = t.privateKey ? publicHalf(t.privateKey) : this.ownKey(t.zone)
      if (!identity) continue
      const port = t.listenPort ?? CALLS_FROM + nth
      const [address, length] = t.address?.split('/') ?? []
      const end = new TunnelEnd(
        this.queue,
        {
          identity,
          address: address ? toNumber(address) : null,
          length: Number(length ?? 32),
          mtu: t.mtu,
          peers: t.peers.map((p) => ({ ...p, allowed: spansIn(p.allowed) })),
        },
        this.wireAt<Sealed>(port),
      )
      this.byPort.set(port, end)
      this.byZone.set(t.zone, end)
      this.router.attach(t.zone, end)
      if (t.kind === 'provider')
        exits.push({
          place: t.zone,
          through: spansIn(t.through),
          whenDown: t.whenDown,
          isUp: () => end.isUp(),
        })
    }
    this.router.exits = exits
    for (const end of this.byZone.values()) end.start()
  }

  private bringUpIke({ zone, ike, peers, mtu }: GatewayConfiguration['tunnels'][number]): void {
    const [peer] = peers
    if (!ike || !peer) return
    const end = new IkeEnd(
      this.queue,
      {
        ...ike,
        ...{ mtu, sharedKey: peer.sharedKey, host: peer.endpoint?.host ?? null },
        ...{ local: spansIn(ike.localSelectors), remote: spansIn(ike.remoteSelectors) },
      },
      this.wireAt<Ike>(IKE_PORT_TRANSLATED),
      this.random,
    )
    this.ofIke.push(end)
    this.byZone.set(zone, end)
    this.router.attach(zone, end)
  }

  /** An answer leaves by the address that was asked. */
  private wireAt<D extends Sealed | Ike>(port: number): Wire<D> {
    const { endpoint } = this.router
    return {
      send: (to, data) =>
        endpoint.udp(to.address, to.at ?? port, to.port, data, to.by ?? undefined),
      resolve: (host, done) => {
        const names = this.names()
        if (isAddress(host)) done(toNumber(host))
        else if (names !== null) endpoint.resolve(names, host, done)
      },
    }
  }

  bringDown(): void {
    for (const end of this.byZone.values()) end.stop()
    this.ofIke.length = 0
    this.byPort.clear()
    this.byZone.clear()
  }

  receive({ src, dst, body }: Packet): void {
    if (body.protocol !== 'udp') return
    const { data } = body
    const from = { address: src, port: body.srcPort, by: dst }
    if (data.kind === 'sealed') this.byPort.get(body.dstPort)?.receive(data, from)
    else if (data.kind === 'ike')
      [...this.ofIke]
        .sort((a, b) => b.fit(data) - a.fit(data))[0]
        ?.receive(data, {
          ...from,
          at: body.dstPort,
        })
  }

  end(zone: string): TunnelEnd | IkeEnd | undefined {
    return this.byZone.get(zone)
  }
}
