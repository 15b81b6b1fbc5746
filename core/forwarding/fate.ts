/** What a trace is made of: its ends, its hops, where it is lost. */
import type { Device, Segment } from '../plan'
import type { Arrival } from '../topology'

export type Endpoint =
  | { readonly kind: 'device'; readonly id: string }
  | { readonly kind: 'segment'; readonly id: string }
  | { readonly kind: 'internet' }
  /** Somebody at the other end of a tunnel. */
  | { readonly kind: 'peer'; readonly id: string }
  /** The provider's own network on the line; nobody asks from there. */
  | { readonly kind: 'provider' }
  /** The gateway's own pages and services. */
  | { readonly kind: 'gateway' }
  /** The address of the line, at the ports of a port forward. */
  | { readonly kind: 'forward'; readonly id: string }

export interface TraceHop {
  readonly layer: 'host' | 'cable' | 'radio' | 'route' | 'rule' | 'nat' | 'line' | 'tunnel'
  readonly text: string
  readonly deviceId?: string
  readonly portId?: string
  readonly ruleId?: string
}

export interface Trace {
  readonly verdict: 'delivered' | 'blocked' | 'broken'
  /** What decided: the rule that lets it pass or drops it, or the place where it is lost. */
  readonly decidedBy: {
    readonly kind: 'rule' | 'route' | 'cable' | 'isolation' | 'line' | 'address' | 'tunnel'
    readonly id: string
    readonly text: string
  }
  readonly hops: readonly TraceHop[]
}

export class Lost extends Error {
  constructor(
    readonly decidedBy: Trace['decidedBy'],
    readonly verdict: 'blocked' | 'broken',
  ) {
    super(decidedBy.text)
  }
}

export interface Located {
  readonly segment: Segment
  readonly arrival: Arrival | undefined
  readonly device: Device | undefined
}
