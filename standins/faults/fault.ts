/**
 * What a fault is that can be put into a world: how it is described, on what of a plan it is most
 * telling, and what it does. The files of faults name no device's code, so that a browser can list
 * them without carrying the stand-ins along.
 */
import type { SitePlan } from '@mast/core/plan'
import type { z } from 'zod'
import type { HostBox } from '../devices/hostBox'
import type { AccessPoint } from '../devices/accessPoint'
import type { Appliance } from '../devices/appliance'
import type { Gateway } from '../devices/gateway'
import type { HiddenWall } from '../air/air'
import type { BridgeTruth } from '../air/bridgePath'
import type { LinePath, LineTruth } from '../devices/provider'
import type { Outside } from '../outside/outside'
import type { PeerTruth } from '../outside/peerBox'

/** What a fault may touch. */
export interface FaultWorld {
  readonly plan: SitePlan
  appliance(deviceId: string): Appliance | undefined
  accessPoint(deviceId: string): AccessPoint | undefined
  host(deviceId: string): HostBox | undefined
  readonly gateway: Gateway | undefined
  readonly outside: Outside
  /** Exchanges the unit for one whose label says something else, or back. Gives its serial. */
  relabel(deviceId: string, isMistyped: boolean): string
}

export interface FaultKind<K extends string, S extends z.ZodType<{ kind: K }>> {
  readonly kind: K
  readonly schema: S
  /** What tells two of its kind apart; where it is absent there is one at the most. */
  of?(fault: z.infer<S>): string | undefined
  /** One that the plan makes possible, with what happens in words. */
  offer(plan: SitePlan): { readonly fault: z.infer<S>; readonly label: string } | undefined
  /** Does it, or takes it back. Gives a refusal, or what happened; nothing is "put in". */
  put?(
    world: FaultWorld,
    fault: z.infer<S>,
    on: boolean,
  ): { readonly ok: boolean; readonly text: string } | undefined
  /** An access point that hangs elsewhere while it is in. */
  moves?(fault: z.infer<S>): { readonly deviceId: string; readonly x: number; readonly y: number }
  /** A wall that nobody drew, while it is in. */
  hiddenWall?(fault: z.infer<S>): HiddenWall
  /** Where the plug of a port really is while it is in. */
  plugOf?(fault: z.infer<S>, portId: string): string
  /** What a lead passes at the most while it is in, Mbit/s; null where it is as any other. */
  leadMbps?(fault: z.infer<S>, linkId: string): number | null
  /** The line that has no signal while it is in; null is the first of the plan. */
  cutsLine?(fault: z.infer<S>): string | null
  /** What is true of a line while it is in; null is the first of the plan. */
  readonly spoilsLine?: {
    of(fault: z.infer<S>): string | null
    spoil(fault: z.infer<S>, truth: LineTruth): void
  }
  /** What is true of a bridge while it is in. */
  readonly spoilsBridge?: {
    of(fault: z.infer<S>): string
    spoil(fault: z.infer<S>, truth: BridgeTruth): void
  }
  /** What is true of the other end of a tunnel while it is in. */
  readonly spoilsPeer?: {
    of(fault: z.infer<S>): string
    spoil(fault: z.infer<S>, truth: PeerTruth): void
  }
  /** What becomes of the way behind the modem of a line. */
  readonly spoilsPath?: {
    of(fault: z.infer<S>): string | null
    spoil(fault: z.infer<S>, path: LinePath): void
  }
}
export const defineFault = <const K extends string, S extends z.ZodType<{ kind: K }>>(
  fault: FaultKind<K, S>,
): FaultKind<K, S> => fault
