/**
 * What a release hands to each device: the document and the firmware, made once, so that later
 * edits and later versions of this program change nothing of it.
 */
import { desiredConfiguration, type Secrets } from '../adoption'
import type { Configuration } from '@mast/protocol'
import type { SiteModel } from '../topology'

export interface ReleasedDocument {
  readonly deviceId: string
  readonly profileId: string
  readonly firmware: string
  readonly digest: string
  readonly configuration: Configuration
}
export interface ReleasedDocuments {
  readonly documents: readonly ReleasedDocument[]
  /** Devices for which something is missing, and what. */
  readonly missing: readonly { readonly deviceId: string; readonly what: readonly string[] }[]
}

export function releasedDocuments(model: SiteModel, secrets: Secrets): ReleasedDocuments {
  const documents: ReleasedDocument[] = []
  const missing: { deviceId: string; what: readonly string[] }[] = []
  for (const d of model.devices) {
    const profile = model.profileOf(d.id)
    if (!profile.adoptable) continue
    const outcome = desiredConfiguration(model, d.id, secrets)
    if (outcome.ok)
      documents.push({
        deviceId: d.id,
        profileId: profile.id,
        firmware: model.firmwareWanted(d.id),
        ...outcome.desired,
      })
    else missing.push({ deviceId: d.id, what: outcome.missing })
  }
  return { documents, missing }
}
