/**
 * The day as the disciplines lay it out: phase after phase, each step behind what it needs. What one
 * phase ends with, later ones wait for.
 */
import { isFar, type Device, type Profile } from '../plan'
import { cableDepth, type SiteModel } from '../topology'
import { locationOf, stepOf, type Add, type Step } from './step'

/**
 * Everything is built and verified behind the new gateway while the old router carries the site:
 * bench first, then in place (power, uplink, claim, verify, back up), and only then the leads of
 * hosts, since an unconfigured switch is one VLAN. The cut-over comes last and is short: the line,
 * then plugs; behind it those outside are let in. What is to carry on without something is tried at the very end.
 */
export const phases = [
  'record',
  'bench',
  'place',
  'adopt',
  'lay',
  'cut over',
  'connect',
  'let in',
  'prove',
  'try',
  'leave',
] as const
export type Phase = (typeof phases)[number]

/** Steps of one phase. Gives the ids of those that later phases may wait for. */
export interface DayPart {
  readonly phase: Phase
  steps(day: Day): readonly string[]
}

/** Equipment that no controller adopts and that frames have to pass. */
const PASSIVE: ReadonlySet<Profile['kind']> = new Set([
  'switch',
  'bridge-radio',
  'range-extender',
  'injector',
  'modem',
])
/** What a controller could adopt, where there is none. */
const ALONE: ReadonlySet<Profile['kind']> = new Set(['gateway', 'access-point'])

export class Day {
  readonly all: Step[] = []
  /** From the gateway outwards; none where there is no controller. */
  readonly adoptable: readonly Device[]
  /**
   * Radios for bridges that a controller adopts: frames pass them once they are set and aimed, so
   * they are among the passive ones until then.
   */
  readonly watched: readonly Device[]
  /** Set up by its own page, or by nobody; from the gateway outwards. */
  readonly passive: readonly Device[]
  /** Whether the controller is behind a tunnel, so that it is called once the line carries. */
  readonly isControllerFar: boolean
  /** Both. */
  readonly gear: readonly Device[]
  /** Which step puts a device into its place, of those that nobody adopts. */
  readonly placed = new Map<string, string>()
  private readonly ends = new Map<Phase, string[]>()
  readonly add: Add = (d) => {
    this.all.push(stepOf(d))
    return d.id
  }

  constructor(readonly model: SiteModel) {
    this.isControllerFar = isFar(model.controllerPlace)
    const rank: Partial<Record<Profile['kind'], number>> = {
      gateway: 0,
      switch: 1,
      'access-point': 2,
    }
    const kindOf = (d: Device): Profile['kind'] => model.profileOf(d.id).kind
    const rankOf = (d: Device): number => rank[kindOf(d)] ?? 9
    const isAdopted = (d: Device): boolean => model.hasController && model.profileOf(d.id).adoptable
    this.gear = model.devices
      .filter((d) => isAdopted(d) || PASSIVE.has(kindOf(d)) || ALONE.has(kindOf(d)))
      .sort(
        (a, b) =>
          rankOf(a) - rankOf(b) ||
          cableDepth(model, a.id) - cableDepth(model, b.id) ||
          (a.id < b.id ? -1 : 1),
      )
    const isRadio = (d: Device): boolean => kindOf(d) === 'bridge-radio'
    this.adoptable = this.gear.filter((d) => isAdopted(d) && !isRadio(d))
    this.watched = this.gear.filter((d) => isAdopted(d) && isRadio(d))
    this.passive = this.gear.filter((d) => !isAdopted(d) || isRadio(d))
  }

  run(part: DayPart): void {
    this.ends.set(part.phase, [...(this.ends.get(part.phase) ?? []), ...part.steps(this)])
  }
  /** What the given phases ended with. */
  after(...of: Phase[]): string[] {
    return [...new Set(of.flatMap((p) => this.ends.get(p) ?? []))]
  }

  get benchAt(): string | null {
    return this.model.gateway ? locationOf(this.model, this.model.gateway) : null
  }

  cables(d: Device, which: (peerDeviceId: string) => boolean): { label: string; text: string }[] {
    return this.model.portsOf(d.id).flatMap((p) => {
      const peer = this.model.peerOf(p.id)
      return peer && which(peer.deviceId)
        ? [{ label: `port ${p.name}`, text: this.model.portName(peer.id) }]
        : []
    })
  }

  get hosts(): Device[] {
    return this.model.devices.filter((d) => this.model.profileOf(d.id).kind === 'host')
  }

  attachment(host: Device): string {
    if (host.wirelessNetworkId)
      return `joins '${this.model.plan.wirelessNetworks[host.wirelessNetworkId]?.name ?? ''}'`
    const peer = this.model
      .portsOf(host.id)
      .map((p) => this.model.peerOf(p.id))
      .find((p) => p)
    return peer ? this.model.portName(peer.id) : 'not cabled in the plan'
  }
}
