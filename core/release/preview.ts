/**
 * A release before it is sent: what each device gets, what that does, in which order, and what
 * keeps it back.
 */
import {
  controllerUrl,
  documentDifferences,
  type DocumentDifference,
  type Secrets,
} from '../adoption'
import { findingsOf } from '../findings'
import { controllerPlace, own, type SitePlan } from '../plan'
import { siteModel } from '../topology'
import { isQuiet } from './quiet'
import { releasedDocuments, type ReleasedDocument } from './documents'
import { byHand, leaseChanges, pairChanges, type LeaseChange, type PairChange } from './impact'
import { behind, lockOuts, movedDevices, type LockOut } from './lockOut'
import { weakKeys } from '../wifi/keys'

/** What a device has now. */
export interface Told {
  readonly deviceId: string
  readonly digest: string
  readonly firmware: string
  readonly configuration: object
}

export interface DeviceChange {
  readonly deviceId: string
  readonly name: string
  readonly differences: readonly DocumentDifference[]
  readonly firmware: { readonly from: string; readonly to: string } | null
  /** Whether the controller hears it now; who is not heard loads when it is. */
  readonly isLive: boolean
  /** How long it is away while it loads, s, and how many hosts are cut off with it. */
  readonly awaySeconds: number
  readonly hostsCut: number
}
export interface ReleasePreview {
  readonly changes: readonly DeviceChange[]
  /** Devices whose document stays as it is. */
  readonly same: number
  /** Ids of live devices that load together, wave after wave. */
  readonly waves: readonly (readonly string[])[]
  /** Live devices that are off while their cables are moved. */
  readonly moved: readonly string[]
  readonly pairs: readonly PairChange[]
  readonly leases: readonly LeaseChange[]
  readonly byHand: readonly string[]
  /** The addresses by which devices call the controller before and after, where they differ. */
  readonly controllers: { readonly from: string; readonly to: string } | null
  /** Keys that are sent and are soon guessed, in words that do not tell them. */
  readonly weakKeys: readonly string[]
  readonly lockOuts: readonly LockOut[]
  /** What keeps it back, in words. */
  readonly heldBack: readonly string[]
  readonly missing: readonly { readonly name: string; readonly what: readonly string[] }[]
}

const MOST_DIFFERENCES = 200

function controllersOf(before: SitePlan, after: SitePlan): ReleasePreview['controllers'] {
  const [from, to] = [controllerUrl(siteModel(before)), controllerUrl(siteModel(after))]
  return from && to && from !== to ? { from, to } : null
}

/**
 * Those who carry the ways of others load together, first; then one of the others alone, then the
 * rest of them.
 * What is mixed stands only while all are on trial.
 */
function wavesOf(
  changed: readonly {
    readonly deviceId: string
    readonly quiet: boolean
    readonly hosts: number
  }[],
): string[][] {
  const together = changed.filter((c) => !c.quiet).map((c) => c.deviceId)
  const [first, ...rest] = changed
    .filter((c) => c.quiet)
    .sort((a, b) => a.hosts - b.hosts)
    .map((c) => c.deviceId)
  return [together, first === undefined ? [] : [first], rest].filter((w) => w.length > 0)
}

/**
 * @param before the plan that devices have; null before the first release
 * @param told what each device has now
 * @param live devices that run a configuration and are heard
 */
export function previewRelease(
  before: SitePlan | null,
  after: SitePlan,
  secrets: Secrets,
  told: readonly Told[],
  live: readonly string[],
): { preview: ReleasePreview; documents: readonly ReleasedDocument[] } {
  const model = siteModel(after)
  const { documents, missing } = releasedDocuments(model, secrets)
  const has = new Map(told.map((t) => [t.deviceId, t]))
  const alive = new Set(live)
  const moved = before ? movedDevices(before, after, live) : []
  const changed = documents.filter(
    (d) => has.get(d.deviceId)?.digest !== d.digest || has.get(d.deviceId)?.firmware !== d.firmware,
  )
  const changes = changed.map((d): DeviceChange => {
    const had = has.get(d.deviceId)
    const { waits } = model.profileOf(d.deviceId)
    const loads = had !== undefined && had.firmware !== d.firmware
    return {
      deviceId: d.deviceId,
      name: after.devices[d.deviceId]!.name,
      isLive: alive.has(d.deviceId),
      firmware: loads ? { from: had.firmware, to: d.firmware } : null,
      differences:
        had?.digest === d.digest
          ? []
          : documentDifferences(had?.configuration ?? null, d.configuration).slice(
              0,
              MOST_DIFFERENCES,
            ),
      awaySeconds:
        waits.applySeconds +
        waits.bootSeconds +
        (loads ? waits.firmwareSeconds + waits.bootSeconds : 0),
      hostsCut: behind(after, d.deviceId),
    }
  })
  const members = changed.filter((d) => alive.has(d.deviceId) && !moved.includes(d.deviceId))
  const waves = wavesOf(
    members.map((d) => ({
      deviceId: d.deviceId,
      quiet: isQuiet(has.get(d.deviceId)?.configuration ?? null, d.configuration),
      hosts: changes.find((c) => c.deviceId === d.deviceId)!.hostsCut,
    })),
  )
  const outs = before ? lockOuts(siteModel(before), model, live) : []
  const home = controllerPlace(after)
  const cutsAll =
    before !== null &&
    home !== null &&
    changed.some((d) => alive.has(d.deviceId)) &&
    moved.length > 0 &&
    live.every((id) => moved.includes(id))
  const blockers = findingsOf(after).filter((f) => f.severity === 'blocker')
  const name = (id: string): string => own(after.devices, id)?.name ?? id
  const heldBack = [
    ...(blockers.length > 0
      ? [
          `${blockers.length === 1 ? 'A blocker stands' : `${blockers.length} blockers stand`} ` +
            `on the plan: ${blockers[0]!.text}`,
        ]
      : []),
    ...missing
      .filter((m) => alive.has(m.deviceId))
      .map((m) => `${name(m.deviceId)} has no configuration: missing ${m.what.join(', ')}`),
    ...outs.map((o) => `${o.text}. ${o.detour}`),
    ...(cutsAll
      ? [
          'The cable by which the controller hears everybody is moved, so nobody could ' +
            'confirm. Prepare the new socket and send that; then move the cable; then clear ' +
            'the old socket.',
        ]
      : []),
  ]
  return {
    documents,
    preview: {
      changes,
      same: documents.length - changed.length,
      waves,
      moved,
      pairs: before ? pairChanges(before, after) : [],
      leases: before ? leaseChanges(before, after) : [],
      byHand: before ? byHand(before, after) : [],
      controllers: before && controllersOf(before, after),
      weakKeys: weakKeys(after, secrets),
      lockOuts: outs,
      heldBack,
      missing: missing.map((m) => ({ name: name(m.deviceId), what: m.what })),
    },
  }
}
