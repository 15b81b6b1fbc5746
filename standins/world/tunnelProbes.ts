/**
 * Probes of tunnels that need the other end for themselves: tried inside first, after a long
 * silence, or while the server at the other end is off.
 */
import type { Observation, Probe } from '@mast/protocol'
import { HostBox } from '../devices/hostBox'
import { toText } from '../frames/frame'
import { howFar, runProbe } from './probes'
import type { World } from './world'

/** How long somebody waits for a handshake, s. */
const HANDSHAKE_SECONDS = 20
/** After so long without an answer no session is used any more, s. */
const SESSION_SECONDS = 200

export class TunnelProbes {
  constructor(private readonly world: World) {}

  isAlone(p: Probe): boolean {
    return Boolean(p.inside) || Boolean(p.idleSeconds) || Boolean(p.without)
  }

  private wait(seconds: number): Promise<void> {
    return new Promise((resolve) => this.world.queue.after(seconds, resolve))
  }

  /** Those that need quiet, or the other end of a tunnel off. */
  async alone(probes: readonly Probe[]): Promise<Observation[]> {
    const seen: Observation[] = []
    const ask = (some: readonly Probe[]): Promise<Observation[]> =>
      Promise.all(some.map((p) => runProbe(this.world, p)))
    const quiet = probes.filter((p) => p.idleSeconds)
    if (quiet.length > 0) {
      await this.wait(Math.max(...quiet.map((p) => p.idleSeconds ?? 0)))
      seen.push(...(await ask(quiet)))
    }
    const isFor = (id: string) => (p: Probe) => p.without === id
    for (const id of new Set(probes.flatMap((p) => p.without ?? []))) {
      const off = this.world.outside.peers.get(id)
      off?.setOff(true)
      await this.wait(SESSION_SECONDS)
      seen.push(...(await ask(probes.filter(isFor(id)))))
      off?.setOff(false)
      off?.restart()
    }
    return seen
  }

  /** Carried to a host inside, whose cable or radio it uses, with the file that it has. */
  async inside(p: Probe): Promise<Observation> {
    const { world } = this
    const box = world.outside.peers.get(p.from)
    const host = world.boxes.get(p.inside ?? '')
    const began = world.queue.now
    const result = (outcome: Observation['outcome'], detail: string): Observation => ({
      ...(box ? { tunnel: { ...howFar(world, box, p, began), called: null, here: null } } : {}),
      ...{ id: p.id, outcome, detail, address: null, servers: [] },
      atSeconds: world.queue.now,
      epochSeconds: Math.floor(world.epochNow),
    })
    if (!box) return result('off', 'there is no such end of a tunnel')
    if (!(host instanceof HostBox) || !host.powered)
      return result('off', 'nothing inside has power to carry it to')
    if (!host.ready || host.host.address === null) await this.wait(60)
    const at = host.host.gateway
    if (host.host.address === null || at === null || p.port === null)
      return result('no-address', 'it gets no address inside')
    const { endpoint } = host.host
    const end = box.carriedInside({ address: at, port: p.port }, (to, data) =>
      endpoint.udp(to.address, 51_820, to.port, data),
    )
    host.onSealed = (packet) => {
      if (packet.body.protocol === 'udp' && packet.body.data.kind === 'sealed')
        end.receive(packet.body.data, { address: packet.src, port: packet.body.srcPort, by: null })
    }
    end.call(box.truth.here.publicKey)
    const until = world.queue.now + HANDSHAKE_SECONDS
    while (!end.isUp() && world.queue.now < until) await this.wait(1)
    const works = end.isUp()
    end.stop()
    host.onSealed = () => {}
    box.restart()
    return result(works ? 'works' : 'no-handshake', toText(at))
  }
}
