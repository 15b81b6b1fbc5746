/**
 * A controller on the internet, by its name, and the point at which a device from its box is told of
 * it: whoever's serial is waited for.
 */
import type { EventQueue } from '../clock/eventQueue'
import type { Packet } from '../frames/frame'
import { Endpoint } from '../net/endpoint'
import type { Names } from './names'
import { INTERNET_CONTROLLER, INTERNET_MEETING_POINT } from './places'

export interface HostedController {
  readonly name: string
  readonly port: number
  /** Those on which it answers. */
  readonly ports: readonly number[]
  /** Serials of the devices that it waits for. */
  readonly waitsFor: ReadonlySet<string>
}
/** What the meeting point says. */
export interface Meeting {
  readonly controllerUrl: string | null
}

const HTTPS = 443

export class OnTheInternet {
  private hosted: HostedController | null = null
  /** Switched off, as for works on it. */
  isOff = false
  private readonly controller: Endpoint
  private readonly meetingPoint: Endpoint

  constructor(queue: EventQueue, output: (packet: Packet) => void) {
    this.controller = new Endpoint(queue, () => INTERNET_CONTROLLER, output)
    this.meetingPoint = new Endpoint(queue, () => INTERNET_MEETING_POINT, output)
    this.meetingPoint.listening.set(HTTPS, (data) => this.meet(data))
  }

  /** @param others names of controllers beside that of the plan; they answer at the usual port */
  set(hosted: HostedController | null, names: Names, others: readonly string[] = []): void {
    this.hosted = hosted
    this.controller.listening.clear()
    for (const name of others) {
      names.register(name, INTERNET_CONTROLLER)
      this.controller.listening.set(HTTPS, () => 'controller')
    }
    if (!hosted) return
    names.register(hosted.name, INTERNET_CONTROLLER)
    for (const port of hosted.ports) this.controller.listening.set(port, () => 'controller')
  }

  private meet(data: unknown): Meeting {
    const { serial } = (data ?? {}) as { serial?: string }
    const { hosted } = this
    return {
      controllerUrl:
        hosted && serial && hosted.waitsFor.has(serial)
          ? `https://${hosted.name}:${hosted.port}`
          : null,
    }
  }

  /** Gives whether the packet was for one of the two. */
  receive(packet: Packet): boolean {
    if (packet.dst === INTERNET_MEETING_POINT) this.meetingPoint.receive(packet)
    else if (packet.dst !== INTERNET_CONTROLLER) return false
    else if (!this.isOff) this.controller.receive(packet)
    return true
  }
}
