/** What a device does for itself while it runs: sets its clock, and starts anew where its watchdog says so. */
import type { Configuration } from '@mast/protocol'
import { toNumber } from '../frames/frame'
import type { Endpoint } from '../net/endpoint'
import { INTERNET_HOST } from '../outside/places'

const TIME_PORT = 123
const FIRST_ASKS_SECONDS = 5
/** RFC 5905: from once in 64 s to once in 1024 s. */
const [RETRY_SECONDS, POLL_SECONDS] = [64, 1024]

type System = Configuration['system']

/** The device, from one start to the next: nothing of it is done after that. */
export interface Running {
  readonly endpoint: Endpoint
  later(seconds: number, what: () => void): void
  isOver(): boolean
  /** Does nothing where it may not be started now. */
  restart(): void
}

export class SelfCare {
  /** Who told it the time since it started. */
  timeFrom: number | null = null

  start(device: Running, system: System | undefined): void {
    const told = system?.timeServers ?? []
    const servers = told.length > 0 ? told.map(toNumber) : [INTERNET_HOST]
    device.later(FIRST_ASKS_SECONDS, () => this.askTime(device, servers, 0))
    if (system?.watchdog) watch(device, system.watchdog, 0)
  }
  stop(): void {
    this.timeFrom = null
  }

  /** One server after the other, until one answers (RFC 5905 7.3). */
  private askTime(device: Running, servers: readonly number[], nth: number): void {
    const server = servers[nth % servers.length]!
    device.endpoint.question(server, TIME_PORT, (answer) => {
      if (device.isOver()) return
      const isTold = answer === 'works'
      if (isTold) this.timeFrom = server
      device.later(isTold ? POLL_SECONDS : RETRY_SECONDS, () =>
        this.askTime(device, servers, isTold ? nth : nth + 1),
      )
    })
  }
}

/** Asks an address now and then; starts anew once it was not answered so many times in a row. */
function watch(device: Running, dog: NonNullable<System['watchdog']>, unanswered: number): void {
  device.later(dog.everySeconds, () =>
    device.endpoint.ping(
      toNumber(dog.address),
      (answer) => {
        if (device.isOver()) return
        const missed = answer === 'works' ? 0 : unanswered + 1
        if (missed >= dog.failures) device.restart()
        if (!device.isOver()) watch(device, dog, missed)
      },
      undefined,
      1,
    ),
  )
}
