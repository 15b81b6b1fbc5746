/**
 * What a cause of results that contradict the plan is (C-80), and what finders of causes look at. A
 * cause is named from the pattern of what fails and what does not, and from what the devices report;
 * each says what speaks for it and how to make sure.
 */
import type { AdoptionState } from '../adoption'
import type { Device } from '../plan'
import { cablePath, type SiteModel } from '../topology'
import type { ProofResult } from './judge'

export interface ReportedDevice {
  readonly deviceId: string
  readonly state: AdoptionState
  readonly ports: readonly {
    readonly name: string
    readonly up: boolean
    readonly heard: readonly string[]
  }[]
  /** Of a gateway: each of its lines, by its socket. */
  readonly lines: readonly {
    readonly port: string
    readonly up: boolean
    readonly address: string | null
    readonly signIn?: 'unanswered' | 'refused' | 'accepted' | null
  }[]
}
export interface ForeignDevice {
  readonly serial: string
  readonly hardwareAddress: string
  readonly model: string
}
export interface SiteFacts {
  readonly devices: readonly ReportedDevice[]
  readonly foreign: readonly ForeignDevice[]
}

export interface Cause {
  /** What it is, in a word: `cut-cable`, `drift`. */
  readonly kind: string
  readonly text: string
  /** What speaks for it. */
  readonly evidence: readonly string[]
  /** What to do to make sure, in order. */
  readonly checks: readonly string[]
  readonly explains: readonly string[]
  readonly subjects: readonly string[]
}

export interface Evidence {
  readonly model: SiteModel
  readonly results: readonly ProofResult[]
  /** Those that are not as planned. */
  readonly wrong: readonly ProofResult[]
  readonly facts: SiteFacts
}
/** Looks for causes of one kind. */
export interface CauseFinder {
  /** Which is to be checked first: the lower the earlier. */
  readonly turn: number
  find(evidence: Evidence): Cause[]
}

export const ids = (results: readonly ProofResult[]): string[] => results.map((r) => r.test.id)

export const stateOf = (facts: SiteFacts, id: string): AdoptionState =>
  facts.devices.find((d) => d.deviceId === id)?.state ?? 'planned'

/** Results of tests that one of these asked, or was asked in. */
export const about = (
  results: readonly ProofResult[],
  deviceIds: Iterable<string>,
): ProofResult[] => {
  const wanted = new Set(deviceIds)
  return results.filter(
    ({ test }) =>
      wanted.has(test.from) ||
      (test.probe?.target?.kind === 'host' && wanted.has(test.probe.target.deviceId)),
  )
}

/** Whether it goes through a tunnel, whose other end is somewhere outside. */
export const isOfTunnel = ({ plan }: SiteModel, { test }: ProofResult): boolean =>
  Object.hasOwn(plan.peers, test.from) ||
  Object.hasOwn(plan.tunnels, test.toPlace) ||
  test.kind === 'handshake' ||
  test.probe?.target?.kind === 'peer'

/** What fails for a host behind a device, or to one. */
export function behind(
  model: SiteModel,
  wrong: readonly ProofResult[],
  deviceId: string,
): ProofResult[] {
  const hosts = new Set(model.devices.filter((d) => passes(model, d, deviceId)).map((d) => d.id))
  const concerned = new Set(about(wrong, hosts))
  return wrong.filter((r) => r.test.from === deviceId || concerned.has(r))
}

/** Whether the way from the gateway to a host goes through a device. */
function passes(model: SiteModel, host: Device, deviceId: string): boolean {
  return wayTo(model, host).some((hop) => hop.deviceId === deviceId)
}

export interface WayHop {
  readonly deviceId: string
  readonly outPortId: string
  readonly inPortId: string
}

export function wayTo(model: SiteModel, host: Device): WayHop[] {
  const network = host.wirelessNetworkId
    ? model.plan.wirelessNetworks[host.wirelessNetworkId]
    : undefined
  const ends = network ? network.accessPointIds : [host.id]
  return ends.flatMap((end) =>
    (cablePath(model, end) ?? []).map(([out, into]) => ({
      deviceId: into.deviceId,
      outPortId: out.id,
      inPortId: into.id,
    })),
  )
}

/** What a device last reported of one of its ports. */
export function portState(
  facts: SiteFacts,
  portId: string,
): ReportedDevice['ports'][number] | undefined {
  const dot = portId.lastIndexOf('.')
  return facts.devices
    .find((d) => d.deviceId === portId.slice(0, dot))
    ?.ports.find((p) => p.name === portId.slice(dot + 1))
}
