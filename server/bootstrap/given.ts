/**
 * What a device from its box is given (RFC 8572): what its site wants on it, signed by the site's
 * owner, with what its maker says of whose it is.
 */
import { and, desc, eq } from 'drizzle-orm'
import { bootstrapUrl } from '@mast/core/adoption'
import { canonicalJson, type SitePlan } from '@mast/core/plan'
import { siteModel, type SiteModel } from '@mast/core/topology'
import {
  certificatesCms,
  CONTENT,
  isCertifiedBy,
  signedCms,
  subjectOf,
  type BootstrapOutput,
  type Certificate,
  type Conveyed,
  type ProgressType,
} from '@mast/protocol/zeroTouch'
import { claimByVoucher } from '../adoption/claims'
import { firmwareDigest, firmwareImage } from '../adoption/firmware'
import { wantedOn } from '../adoption/prepared'
import { db, inTransaction } from '../db/database'
import { deviceEvents, deviceStates, inventory, vouchers } from '../db/schema'
import { notify } from '../live/notices'
import { planOf } from '../sites/plans'
import { makersOf } from './fromMakers'
import { ownerOf } from './owner'
import { CallRefused } from './refused'

/** Who asks: what it left the factory with, by which it proved itself. */
export interface Asker {
  readonly certificate: Certificate
  readonly others: readonly Certificate[]
}
interface Known {
  readonly siteId: string
  readonly deviceId: string
  readonly serial: string
  readonly voucher: Buffer
  readonly model: SiteModel
  readonly bootstrap: NonNullable<SitePlan['controller']['bootstrap']>
}

/** A serial may stand in several plans; in more than this it stands for nothing. */
const MOST_PLANS = 8
/** The same is not written down again within this time, ms. */
const AGAIN_MS = 10 * 60_000

const noData = (why: string): CallRefused =>
  new CallRefused(404, 'application', 'invalid-value', why)

/** @throws CallRefused where nobody here knows it, vouches that it is theirs, or serves it */
async function known({ certificate, others }: Asker): Promise<Known> {
  const serial = subjectOf(certificate, 'serial')
  if (!serial)
    throw new CallRefused(
      401,
      'protocol',
      'access-denied',
      'the certificate names no serial number (IEEE 802.1AR 8.6)',
    )
  const rows = await db()
    .select({
      siteId: inventory.siteId,
      deviceId: inventory.deviceId,
      voucher: vouchers.voucher,
      expiresAt: vouchers.expiresAt,
    })
    .from(inventory)
    .leftJoin(
      vouchers,
      and(eq(vouchers.serial, inventory.serial), eq(vouchers.siteId, inventory.siteId)),
    )
    .where(eq(inventory.serial, serial))
    .orderBy(desc(vouchers.createdAt))
    .limit(MOST_PLANS)
  let isKnown = false
  for (const { siteId, deviceId, voucher, expiresAt } of rows) {
    if (!(await isCertifiedBy(certificate, await makersOf(db(), siteId), new Date(), others)))
      continue
    isKnown = true
    if (voucher && (!expiresAt || expiresAt > new Date()))
      return { siteId, deviceId, serial, voucher, ...(await serving(siteId)) }
  }
  throw isKnown
    ? noData('its maker does not vouch for an owner here, or no longer')
    : new CallRefused(
        401,
        'protocol',
        'access-denied',
        'no maker that is known here certified this device',
      )
}

async function serving(siteId: string): Promise<Pick<Known, 'model' | 'bootstrap'>> {
  const { plan } = await planOf(db(), siteId)
  const { bootstrap } = plan.controller
  if (!bootstrap) throw noData('its site does not serve devices from their box')
  return { model: siteModel(plan), bootstrap }
}

/** Always signed: nobody has to trust the server for it. */
export async function bootstrapping(asker: Asker): Promise<BootstrapOutput> {
  const who = await known(asker)
  const owner = await ownerOf(db(), who.siteId)
  if (!owner) throw noData('its site has no owner yet')
  const conveyed = await conveyedTo(who)
  const octets = new TextEncoder().encode(JSON.stringify(conveyed))
  const base64 = (der: Uint8Array): string => Buffer.from(der).toString('base64')
  return {
    'reporting-level': 'minimal',
    'conveyed-information': base64(await signedCms(CONTENT.conveyedJson, octets, owner)),
    'owner-certificate': base64(certificatesCms([owner.certificate])),
    'ownership-voucher': base64(who.voucher),
  }
}

async function conveyedTo({ siteId, deviceId, model, bootstrap }: Known): Promise<Conveyed> {
  if (bootstrap.passTo)
    return {
      'ietf-sztp-conveyed-info:redirect-information': {
        'bootstrap-server': [{ address: bootstrap.passTo.host, port: bootstrap.passTo.port }],
      },
    }
  const wanted = await wantedOn(siteId, deviceId)
  if (!wanted.ok) throw noData(`its plan does not say enough: ${wanted.missing.join(', ')}`)
  const { profileId } = model.device(deviceId)
  const version = wanted.firmware
  const path = `/bootstrap/images/${encodeURIComponent(profileId)}/${encodeURIComponent(version)}`
  return {
    'ietf-sztp-conveyed-info:onboarding-information': {
      'boot-image': {
        'os-version': version,
        'download-uri': [`${bootstrapUrl(model) ?? ''}${path}`],
        'image-verification': [
          {
            'hash-algorithm': 'ietf-sztp-conveyed-info:sha-256',
            'hash-value': firmwareDigest(profileId, version).replace(/..(?=.)/g, '$&:'),
          },
        ],
      },
      'configuration-handling': 'replace',
      configuration: Buffer.from(canonicalJson(wanted.configuration)).toString('base64'),
    },
  }
}

/** Whether a device gets on. Once it has all, it belongs to the site without anybody's doing. */
export async function progressed(
  asker: Asker,
  type: ProgressType,
  message: string | undefined,
): Promise<void> {
  const who = await known(asker)
  const isOver = type === 'bootstrap-complete'
  const isTold = isOver || /error|warning|mismatch/.test(type)
  if (isTold) await note(who, `${type}${message ? `: ${message.slice(0, 300)}` : ''}`)
  if (isOver) await claimByVoucher(who.siteId, who.deviceId, who.serial)
}

async function note({ siteId, deviceId }: Known, detail: string): Promise<void> {
  await inTransaction(async (tx) => {
    const [last] = await tx
      .select({ at: deviceEvents.at, detail: deviceEvents.detail })
      .from(deviceEvents)
      .where(and(eq(deviceEvents.siteId, siteId), eq(deviceEvents.deviceId, deviceId)))
      .orderBy(desc(deviceEvents.id))
      .limit(1)
    if (last?.detail === detail && Date.now() - last.at.getTime() < AGAIN_MS) return
    const [row] = await tx
      .select({ state: deviceStates.state })
      .from(deviceStates)
      .where(and(eq(deviceStates.siteId, siteId), eq(deviceStates.deviceId, deviceId)))
    const state = row?.state ?? 'planned'
    await tx.insert(deviceEvents).values({
      ...{ siteId, deviceId, detail, event: 'bootstrap' },
      ...{ fromState: state, toState: state },
    })
    await notify(tx, { site: siteId, topic: 'devices' })
  })
}

/** @throws CallRefused for any other than what the asker is to run */
export async function imageFor(asker: Asker, profileId: string, version: string): Promise<Buffer> {
  const { siteId, deviceId, model } = await known(asker)
  const wanted = await wantedOn(siteId, deviceId)
  if (!wanted.ok || model.device(deviceId).profileId !== profileId || version !== wanted.firmware)
    throw noData('there is no such image for this device')
  return firmwareImage(profileId, version)
}
