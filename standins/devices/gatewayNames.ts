/** Names that follow the address of a gateway's line: looks now and then, and tells who keeps them. */
import type { GatewayConfiguration } from '@mast/protocol'
import type { EventQueue, Timer } from '../clock/eventQueue'
import type { Router } from '../net/router'
import { INTERNET_HOST, INTERNET_NAMES } from '../outside/places'

/** Common practice of devices that follow their address, s. */
const LOOKS_SECONDS = 30
const WEB_PORT = 443

type DynamicName = GatewayConfiguration['dynamicNames'][number]

export class GatewayNames {
  private names: readonly DynamicName[] = []
  private timer: Timer | undefined
  /** What each was last told and took. */
  private readonly told = new Map<string, number>()

  constructor(
    private readonly router: Router,
    private readonly queue: EventQueue,
  ) {}

  bringUp({ dynamicNames }: Pick<GatewayConfiguration, 'dynamicNames'>): void {
    this.names = dynamicNames
    if (dynamicNames.length > 0) this.look()
  }
  bringDown(): void {
    this.timer?.cancel()
    this.told.clear()
  }

  private look(): void {
    const [address] = this.router.lineAddresses()
    if (address !== undefined)
      for (const n of this.names) if (this.told.get(n.name) !== address) this.tell(n, address)
    this.timer = this.queue.after(LOOKS_SECONDS, () => this.look())
  }

  private tell(n: DynamicName, address: number): void {
    const done = (answer: string): void => {
      if (answer === 'works') this.told.set(n.name, address)
    }
    const { endpoint } = this.router
    const { name, ttlSeconds } = n
    const update = { kind: 'name-update', name, address, ttlSeconds, isReply: false } as const
    if (n.how === 'update') endpoint.question(INTERNET_NAMES, 53, done, undefined, update)
    else endpoint.connect(INTERNET_HOST, WEB_PORT, done, { follow: name, ttlSeconds })
  }
}
