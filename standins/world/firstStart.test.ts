/**
 * Devices from their box, by RFC 8572: over the network as it stands, by what their lease says, and
 * nothing that was not signed for them.
 */
import { createHash } from 'node:crypto'
import { beforeEach, describe, expect, it } from 'vitest'
import { waysOf } from '@mast/core/adoption'
import { applyEdits, canonicalJson, editCall as edit } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import {
  certificateOf,
  certificatesCms,
  certificatesIn,
  certified,
  CONTENT,
  derOf,
  isCertifiedBy,
  OPERATION,
  signedCms,
  subjectOf,
  type Conveyed,
  type Signer,
} from '@mast/protocol/zeroTouch'
import { broughtUp, mended, pass, until } from '../../tests/sites/broughtUp'
import type { Appliance, HttpReply, HttpRequest } from '../devices/appliance'
import { base64 } from '../zeroTouch/base64'
import { Factory } from '../zeroTouch/factory'

const PORT = 8543
const plan = applyEdits(mended(), [
  edit('setController', { bootstrap: { port: PORT, passTo: null } }),
])
const switches = siteModel(plan).devices.filter(
  (d) => siteModel(plan).profileOf(d.id).kind === 'switch' && d.serial,
)
const device = switches[0]!
const from = new Date('2025-06-01T00:00:00Z')
const until2049 = new Date('2049-12-31T00:00:00Z')
const owner = (name: string): Promise<Signer> =>
  certified({ name, from, until: until2049, isAuthority: true })

const reply = (status: number, body: unknown, bytes = new Uint8Array()): HttpReply => ({
  status,
  body,
  bytes,
})
const IMAGE = new TextEncoder().encode('image')
const colons = (hex: string): string => hex.replace(/..(?=.)/g, '$&:')

/** One site brought up, and one device of it put back into its box. */
async function started(
  how: {
    signs?: Signer
    vouchesFor?: string
    maker?: Factory
    conveyed?: (configuration: unknown) => Conveyed
    passesOn?: { readonly from: string; readonly to: string }
    image?: string
    version?: string
  } = {},
) {
  const site = await broughtUp(plan)
  const { world, controller } = site
  const wanted = [...siteModel(plan).devices].find((d) => d.id === device.id)!
  const configuration = (world.boxes.get(device.id) as Appliance).flash.configuration!
  const calls: HttpRequest[] = []
  const reports: string[] = []
  const us = await owner('Us')
  const now = (): Date => new Date(world.epochNow * 1000)
  const [voucher] = await (how.maker ?? world.factory).vouchers(
    derOf(us.certificate),
    [how.vouchesFor ?? wanted.serial!],
    now(),
  )
  controller.forNewcomers = async (request) => {
    calls.push(request)
    const [asking] = certificatesIn(request.identity!.certificate)
    expect(subjectOf(asking!, 'serial')).toBe(device.serial)
    expect(await isCertifiedBy(asking!, await world.factory.anchors(), now())).toBe(true)
    if (request.method === 'GET') return reply(200, null, IMAGE)
    const input = (request.body as Record<string, Record<string, string>>)[
      'ietf-sztp-bootstrap-server:input'
    ]!
    if (request.path.endsWith(OPERATION.report)) {
      reports.push(`${input['progress-type']}: ${input.message}`)
      return reply(204, null)
    }
    const said: Conveyed =
      how.passesOn?.from === request.server!.host
        ? {
            'ietf-sztp-conveyed-info:redirect-information': {
              'bootstrap-server': [{ address: how.passesOn.to, port: PORT }],
            },
          }
        : (how.conveyed?.(configuration) ?? {
            'ietf-sztp-conveyed-info:onboarding-information': {
              'boot-image': {
                'os-version': how.version ?? siteModel(plan).firmwareWanted(device.id),
                'download-uri': [`https://${request.server!.host}:${PORT}/images/one`],
                'image-verification': [
                  {
                    'hash-algorithm': 'ietf-sztp-conveyed-info:sha-256',
                    'hash-value':
                      how.image ?? colons(createHash('sha256').update(IMAGE).digest('hex')),
                  },
                ],
              },
              'configuration-handling': 'replace',
              configuration: Buffer.from(canonicalJson(configuration)).toString('base64'),
            },
          })
    const octets = new TextEncoder().encode(JSON.stringify(said))
    return reply(200, {
      'ietf-sztp-bootstrap-server:output': {
        'conveyed-information': base64(
          await signedCms(CONTENT.conveyedJson, octets, how.signs ?? us),
        ),
        'owner-certificate': base64(certificatesCms([(how.signs ?? us).certificate])),
        'ownership-voucher': base64(voucher!),
      },
    })
  }
  controller.heard.clear()
  await until(world, world.hand({ kind: 'reset', deviceIds: [device.id] }))
  await pass(world, 900)
  return { ...site, calls, reports, box: world.boxes.get(device.id) as Appliance }
}

describe('a device from its box', () => {
  it('asks where its lease says, with a question of its own, and runs what its owner wants', async () => {
    const { box, calls, reports, controller } = await started()
    expect(box.flash.configuration).toMatchObject({ kind: 'switch', name: device.name })
    expect(reports).toEqual([
      `bootstrap-complete: with firmware ${siteModel(plan).firmwareWanted(device.id)}`,
    ])
    const address = siteModel(plan).controllerPlace
    expect(calls[0]!.server).toEqual({
      host: address!.kind === 'host' ? address!.address : '',
      port: PORT,
    })
    const asked = calls
      .filter((c) => c.path.endsWith(OPERATION.get))
      .map((c) => JSON.stringify(c.body))
    expect(new Set(asked).size).toBe(asked.length)
    expect(
      waysOf(siteModel(plan), device.id).ways.find((w) => w.kind === 'bootstrap'),
    ).toMatchObject({
      works: true,
    })
    expect(controller.heard.has(device.serial!)).toBe(true)
    expect(box.light).toBe('in-service')
  })
  it('loads the firmware first, and asks again with it', async () => {
    const { box, calls, reports } = await started({ version: '9.9.9' })
    expect(calls.map((c) => c.method).join(' ')).toMatch(/^POST GET POST POST/)
    expect(reports.at(-1)).toBe('bootstrap-complete: with firmware 9.9.9')
    expect(box.flash.configuration).not.toBeNull()
  })
  it('goes on to whom it is passed, and not round in circles', async () => {
    const place = siteModel(plan).controllerPlace
    const here = place!.kind === 'host' ? place!.address! : ''
    const passed = await started({ passesOn: { from: here, to: 'controller.internal' } })
    expect(passed.calls.slice(0, 2).map((c) => c.server!.host)).toEqual([
      here,
      'controller.internal',
    ])
    expect(passed.reports[0]).toMatch(/^bootstrap-complete/)
    const round = await started({ passesOn: { from: here, to: here } })
    expect(round.reports).toEqual([])
    expect(round.calls.length).toBeGreaterThan(3)
    expect(round.calls.length).toBeLessThan(40)
    // And then in the way that needs nobody's signature: it is told of the controller.
    expect(round.controller.heard.has(device.serial!)).toBe(true)
  })
  let stranger: Signer
  beforeEach(async () => {
    stranger = await owner('Somebody')
  })
  it.each([
    [
      'signed by somebody else',
      () => ({ signs: stranger }),
      'parsing-error: it is not signed by the owner that the voucher names',
    ],
    [
      'vouched for another serial',
      () => ({ vouchesFor: 'AM-SWI-00001' }),
      `parsing-error: the voucher is for AM-SWI-00001, this is ${device.serial}`,
    ],
    [
      'vouched for by another maker',
      () => ({ maker: new Factory() }),
      'parsing-error: the voucher is not from its maker',
    ],
    [
      'with an image that is another',
      () => ({ image: colons('00'.repeat(32)), version: '9.9.9' }),
      'boot-image-error: the image arrived damaged',
    ],
    [
      'with a configuration of another kind',
      () => ({
        conveyed: () => ({
          'ietf-sztp-conveyed-info:onboarding-information': {
            configuration: Buffer.from('{"kind":"gateway"}').toString('base64'),
          },
        }),
      }),
      'config-error: the configuration is not for this kind of device',
    ],
  ])('takes nothing %s, says why, and goes another way', async (_, how, why) => {
    const { controller, reports } = await started(how())
    expect(reports).toContain(why)
    expect(reports.join()).not.toContain('bootstrap-complete')
    expect(controller.heard.has(device.serial!)).toBe(true)
  })
  it('knows its maker again after a restart of the process', async () => {
    let kept: string | null = null
    const shelf = {
      read: () => kept,
      write: (text: string) => {
        kept = text
      },
    }
    const [first] = await new Factory(shelf).anchors()
    const [again] = await new Factory(shelf).anchors()
    expect(derOf(again!)).toEqual(derOf(first!))
    const { certificate } = await new Factory(shelf).identity('AM-1')
    const [own] = certificatesIn(certificate)
    expect(await isCertifiedBy(certificateOf(derOf(own!)), [first!], new Date())).toBe(true)
  })
})
