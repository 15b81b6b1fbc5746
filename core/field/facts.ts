/**
 * What is known of the work in the field: states of devices as the controller has them, strangers,
 * ticks. Times are in ms since 1970.
 */
import type { AdoptionState, ClientFacts } from '../adoption'
import type { Drill } from '../uplinks'

export interface DeviceFacts {
  readonly deviceId: string
  readonly state: AdoptionState
  readonly claimed: boolean
  /** Claimed under the same serial by another site of this controller. */
  readonly claimedElsewhere: boolean
  /** Another site of this controller has the same serial in its plan. */
  readonly plannedElsewhere: boolean
  /**
   * Who calls under its serial without a token now, the first first. More than one, or one beside a
   * device that is claimed, is one too many.
   */
  readonly callers: readonly {
    readonly address: string
    readonly hardwareAddress: string
    readonly model: string
    readonly sinceMs: number
  }[]
  /** The kind of device that it says it is; null before it called. */
  readonly model: string | null
  readonly firmware: string | null
  readonly factoryPassword: boolean | null
  readonly configurationMatches: boolean | null
  /** Digest of the configuration that it runs; null where it runs none of ours. */
  readonly runs: string | null
  /** What it did when it was last heard; null before its first report. */
  readonly phase: 'running' | 'loading-firmware' | 'loading-configuration' | 'fault' | null
  /** Its zone and who told it the time; null where it did not say. */
  readonly clock: { readonly zone: string; readonly from: string | null } | null
  readonly lastHeardMs: number | null
  readonly changedMs: number
  readonly ports: readonly {
    readonly name: string
    readonly up: boolean
    readonly speedMbps?: number | null
    readonly heard: readonly string[]
  }[]
}
export interface FieldFacts {
  readonly devices: readonly DeviceFacts[]
  readonly foreign: readonly {
    readonly serial: string
    readonly model: string
    readonly nearest: string | null
  }[]
  readonly steps: readonly {
    readonly stepId: string
    readonly doneMs: number
    /** When its wait is over. */
    readonly readyMs: number
    /** What the step said then (`saysOf`); null where that is not known. */
    readonly said: string | null
  }[]
  /** The newest of each device. */
  readonly backups: readonly {
    readonly deviceId: string
    /** Of the configuration that it is of. */
    readonly digest: string
    readonly atMs: number
  }[]
  /** Of those on the air. */
  readonly clients: readonly ClientFacts[]
  /** Failovers that were tried. */
  readonly drills: readonly Drill[]
  readonly nowMs: number
  /** How much faster than the wall clock the devices live; 1 for real ones. */
  readonly clockSpeed: number
}
