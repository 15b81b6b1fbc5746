/**
 * The server for devices from their box (RFC 8572), asked over TLS as devices ask, and as others
 * try to.
 */
import { createHash } from 'node:crypto'
import { request } from 'node:https'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { makeOwner, readBootstrap, takeMakersFiles } from '@mast/api'
import { canonicalJson, createPlan, type SitePlan } from '@mast/core/plan'
import {
  bootstrapOutputSchema,
  certificatesIn,
  certified,
  derOf,
  keyOctets,
  OPERATION,
  pemOf,
  restconfErrorsSchema,
  type Signer,
} from '@mast/protocol/zeroTouch'
import { Caller } from '../caller'
import { change, NAME, PASSWORD, planWith, serialOf, throwaway } from '../load/system'
import { bootstrapHttp } from '../../standins/control/bootstrapHttp'
import { base64, octets } from '../../standins/zeroTouch/base64'
import { judged } from '../../standins/zeroTouch/judge'
import { Maker } from '../../standins/zeroTouch/maker'
import type { System } from '../../scripts/start/system.mjs'
import { Device } from './device'

let system: System
let close: () => Promise<void>
let owner: Caller
let maker: Maker
let next = 500
beforeAll(async () => {
  ;({ system, close } = await throwaway())
  owner = await Caller.first(system.origin, NAME, PASSWORD)
  maker = await Maker.make()
})
afterAll(() => close())

interface Roll {
  devices: { deviceId: string; state: string; claimed: boolean }[]
  events: { deviceId: string; event: string; detail: string }[]
}
const now = (): Date => new Date()
const days = (n: number): Date => new Date(Date.now() + n * 86_400_000)

/** A site that serves so many devices of its own, with its owner made. */
async function site(
  count = 1,
  bootstrap: SitePlan['controller']['bootstrap'] | undefined = undefined,
) {
  const from = next
  next += count
  const plan = planWith(from, count, createPlan('Fleet'))
  plan.controller.hosted = { name: 'fleet.example.net' }
  plan.controller.bootstrap = bootstrap ?? { port: 8543, passTo: null }
  const { id } = await owner.read<{ id: string }>('POST', '/api/sites', { name: 'Fleet', plan })
  const params = { site: id }
  await owner.ask(makeOwner, { params })
  const certificate = certificatesIn(
    (await owner.ask(readBootstrap, { params })).owner!.certificate,
  )[0]!
  const voucher = (n: number, more: Partial<Parameters<Maker['voucher']>[0]> = {}) =>
    maker.voucher({
      serial: serialOf(n),
      owner: certificate,
      createdOn: now(),
      expiresOn: days(7),
      ...more,
    })
  const take = (...files: [string, Uint8Array][]) =>
    owner.ask(takeMakersFiles, {
      params,
      body: { files: files.map(([name, content]) => ({ name, content: base64(content) })) },
    })
  const off = async (): Promise<void> => {
    const { revision } = await owner.read<{ revision: number }>('GET', `/api/sites/${id}`)
    await owner.read('POST', `/api/sites/${id}/edits`, {
      base: revision,
      changes: [change('setController', { bootstrap: null })],
    })
  }
  const roll = (): Promise<Roll> => owner.read('GET', `/api/sites/${id}/devices`)
  return { id, from, params, certificate, voucher, take, off, roll }
}
const anchor = (): [string, Uint8Array] => ['maker.cer', derOf(maker.anchor)]

const identityOf = async ({ certificate, key }: Signer) => ({
  certificate: pemOf('CERTIFICATE', derOf(certificate)),
  key: pemOf('PRIVATE KEY', await keyOctets(key)),
})
const input = (of: object): object => ({ 'ietf-sztp-bootstrap-server:input': of })
/** A call as a device makes it. */
const call = async (who: Signer, operation: string, body: object = input({})) =>
  (await bootstrapHttp(
    system.bootstrapOrigin,
    { method: 'POST', path: `/restconf/operations/${operation}`, body },
    await identityOf(who),
  ))!
const tagOf = (body: unknown): string =>
  restconfErrorsSchema.parse(body)['ietf-restconf:errors'].error[0]!['error-tag']
const outputOf = (body: unknown) =>
  bootstrapOutputSchema.parse(body)['ietf-sztp-bootstrap-server:output']

describe('a device with its maker’s word', () => {
  it('is given what the plan wants, signed for it, and belongs to the site once it has it', async () => {
    const s = await site()
    const serial = serialOf(s.from)
    expect(await s.take(['one.vcj', await s.voucher(s.from)], anchor())).toEqual({
      taken: 2,
      refused: [],
    })
    const me = await maker.identity(serial)
    const reply = await call(me, OPERATION.get, input({ 'os-version': '1.0.0' }))
    expect(reply.status).toBe(200)
    const read = await judged(outputOf(reply.body), {
      serial,
      anchors: [maker.anchor],
      nonce: null,
      now: now(),
    })
    if (read.kind !== 'onboarding') throw new Error(JSON.stringify(read))
    const configuration: unknown = JSON.parse(
      new TextDecoder().decode(octets(read.information.configuration!)),
    )
    expect(configuration).toEqual(
      await owner.read('GET', `/api/sites/${s.id}/devices/unit-${s.from}/configuration`),
    )
    expect(canonicalJson(configuration)).toBe(
      new TextDecoder().decode(octets(read.information.configuration!)),
    )
    const image = read.information['boot-image']!
    const path = new URL(image['download-uri']![0]!).pathname
    const got = await bootstrapHttp(
      system.bootstrapOrigin,
      { method: 'GET', path },
      await identityOf(me),
    )
    expect(createHash('sha256').update(got!.bytes).digest('hex')).toBe(
      image['image-verification']![0]!['hash-value'].replace(/:/g, ''),
    )
    expect((await s.roll()).devices[0]).toMatchObject({ claimed: false })
    const done = input({ 'progress-type': 'bootstrap-complete', message: 'all of it' })
    expect((await call(me, OPERATION.report, done)).status).toBe(204)
    const { devices, events } = await s.roll()
    expect(devices[0]).toMatchObject({ claimed: true, state: 'claimed' })
    expect(events.map((e) => e.detail)).toEqual([
      `its maker vouches for ${serial}`,
      'bootstrap-complete: all of it',
    ])
    // From then on it speaks as all others do.
    const device = Device.numbered(system.origin, s.from)
    await device.hello()
    expect(await device.askToken()).toBe(200)
  })
  it('is passed on, signed, where its site says so, and is nobody’s for that', async () => {
    const passTo = { host: 'start.example.net', port: 9443 }
    const s = await site(1, { port: 8543, passTo })
    await s.take(anchor(), ['one', await s.voucher(s.from)])
    const { body } = await call(await maker.identity(serialOf(s.from)), OPERATION.get)
    const device = { serial: serialOf(s.from), anchors: [maker.anchor], nonce: null, now: now() }
    expect(await judged(outputOf(body), device)).toEqual({
      kind: 'redirect',
      isTrusted: true,
      servers: [{ address: passTo.host, port: passTo.port }],
    })
    expect((await s.roll()).devices[0]).toMatchObject({ claimed: false })
  })
})

describe('who gets nothing', () => {
  it('comes without a certificate, with one that names no serial, or of a maker unknown here', async () => {
    const s = await site()
    await s.take(anchor(), ['one', await s.voucher(s.from)])
    const bare = await new Promise<number>((resolve, reject) => {
      const url = `${system.bootstrapOrigin}/restconf/operations/${OPERATION.get}`
      request(url, { method: 'POST', rejectUnauthorized: false, agent: false }, (r) => {
        resolve(r.resume().statusCode!)
      })
        .on('error', reject)
        .end()
    })
    expect(bare).toBe(401)
    const self = { from: days(-1), until: days(9), isAuthority: false }
    for (const who of [
      await certified({ name: 'Nobody', ...self }),
      await certified({ name: 'Device', serial: serialOf(s.from), ...self }),
      await (await Maker.make()).identity(serialOf(s.from)),
      await maker.identity('AM-LOAD-99999'),
    ])
      for (const operation of [OPERATION.get, OPERATION.report]) {
        const body = input(operation === OPERATION.get ? {} : { 'progress-type': 'informational' })
        const reply = await call(who, operation, body)
        expect([reply.status, tagOf(reply.body)]).toEqual([401, 'access-denied'])
      }
  })
  it('is vouched for by nobody, no longer, or at a site that does not serve', async () => {
    const s = await site(2)
    await s.take(anchor(), ['soon over', await s.voucher(s.from, { expiresOn: days(1) })])
    const [had, unvouched] = [
      await maker.identity(serialOf(s.from)),
      await maker.identity(serialOf(s.from + 1)),
    ]
    expect((await call(had, OPERATION.get)).status).toBe(200)
    expect((await call(unvouched, OPERATION.get)).status).toBe(404)
    expect(
      await owner.status('DELETE', `/api/sites/${s.id}/bootstrap/vouchers/${serialOf(s.from)}`),
    ).toBe(200)
    const gone = await call(had, OPERATION.get)
    expect([gone.status, tagOf(gone.body)]).toEqual([404, 'invalid-value'])
    const complete = input({ 'progress-type': 'bootstrap-complete' })
    expect((await call(unvouched, OPERATION.report, complete)).status).toBe(404)
    // Once its site does not serve any more, it can say what it likes.
    const again = await s.voucher(s.from)
    await s.take(['again', again])
    expect((await call(had, OPERATION.get)).status).toBe(200)
    await s.off()
    expect((await call(had, OPERATION.get)).status).toBe(404)
    expect((await call(had, OPERATION.report, complete)).status).toBe(404)
    expect((await s.roll()).devices.map((d) => d.claimed)).toEqual([false, false])
  })
  it('says what is not after the module, too much of it, or asks for what is not there', async () => {
    const s = await site()
    await s.take(anchor(), ['one', await s.voucher(s.from)])
    const me = await maker.identity(serialOf(s.from))
    for (const body of [
      {},
      input({ shell: 'true' }),
      input({ nonce: 'not base64!' }),
      input({ 'os-version': 'x'.repeat(70_000) }),
    ]) {
      const reply = await call(me, OPERATION.get, body)
      expect([400, 413]).toContain(reply.status)
      expect(['invalid-value', 'too-big']).toContain(tagOf(reply.body))
    }
    expect((await call(me, OPERATION.report, input({ 'progress-type': 'won' }))).status).toBe(400)
    expect((await call(me, 'toString')).status).toBe(404)
    const of = async (path: string) =>
      (await bootstrapHttp(system.bootstrapOrigin, { method: 'GET', path }, await identityOf(me)))!
    expect((await of('/bootstrap/images/ap-indoor-2x2/0.0.1')).status).toBe(404)
    // Behind this door is nothing of what people have.
    expect((await of('/api/sites')).status).toBe(404)
    expect((await of('/')).status).toBe(404)
    expect(new TextDecoder().decode((await of('/.well-known/host-meta')).bytes)).toContain(
      'rel="restconf" href="/restconf"',
    )
  })
})

describe('files of makers', () => {
  it('are refused one by one, each with what to do, and take nothing from the others', async () => {
    const s = await site(3)
    const other = await site()
    const stranger = await Maker.make()
    const word = {
      serial: serialOf(s.from),
      owner: s.certificate,
      createdOn: now(),
      expiresOn: days(7),
    }
    const { taken, refused } = await s.take(
      anchor(),
      ['good', await s.voucher(s.from)],
      ['of another owner', await other.voucher(s.from)],
      ['of another maker', await stranger.voucher(word)],
      ['over', await s.voucher(s.from, { expiresOn: days(-1), createdOn: days(-9) })],
      [
        'for a question',
        await maker.voucher({ ...word, expiresOn: undefined, nonce: new Uint8Array(16) }),
      ],
      ['nonsense', new TextEncoder().encode('hello')],
      [
        'broken',
        new TextEncoder().encode('-----BEGIN CERTIFICATE-----\nAAAA\n-----END CERTIFICATE-----'),
      ],
    )
    expect(taken).toBe(2)
    expect(Object.fromEntries(refused.map((r) => [r.name, r.why.split(/[;,]/)[0]]))).toEqual({
      'of another owner': `it vouches for another owner of ${serialOf(s.from)}`,
      'of another maker': 'no maker that is known here signed it',
      over: expect.stringMatching(/^it expired at/) as string,
      'for a question': 'it answers one question of the device and no later one',
      nonsense: 'it is no certificate and no voucher',
      broken: 'a certificate in it cannot be read',
    })
    const { vouchers, makers } = await owner.ask(readBootstrap, { params: s.params })
    expect(vouchers.map((v) => v.serial)).toEqual([serialOf(s.from)])
    expect(makers.map((m) => m.name)).toEqual(['Maker of the stand-ins'])
  })
  it('go with the site into its file, and devices take the same owner for theirs elsewhere', async () => {
    const s = await site()
    await s.take(anchor(), ['one', await s.voucher(s.from)])
    const file = await owner.read<object>('POST', `/api/sites/${s.id}/export`, {
      passphrase: 'a long enough passphrase',
    })
    expect(await owner.status('DELETE', `/api/sites/${s.id}`)).toBe(200)
    const { id } = await owner.read<{ id: string }>('POST', '/api/sites/import', {
      file,
      passphrase: 'a long enough passphrase',
    })
    const again = await owner.ask(readBootstrap, { params: { site: id } })
    expect(derOf(certificatesIn(again.owner!.certificate)[0]!)).toEqual(derOf(s.certificate))
    const { body } = await call(await maker.identity(serialOf(s.from)), OPERATION.get)
    const device = { serial: serialOf(s.from), anchors: [maker.anchor], nonce: null, now: now() }
    expect((await judged(outputOf(body), device)).kind).toBe('onboarding')
  })
})
