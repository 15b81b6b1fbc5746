/**
 * Vouchers and what owners sign, judged by another program that reads signed messages, and its own
 * judged here (RFC 5652, RFC 8366, RFC 8572).
 */
import { execFileSync, spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import {
  certificateOf,
  certified,
  CONTENT,
  derOf,
  isSignedBy,
  readCms,
  signedCms,
  voucherSchema,
  type Certificate,
} from '@mast/protocol/zeroTouch'
import { Maker } from '../../standins/zeroTouch/maker'

const folder = mkdtempSync(join(tmpdir(), 'able-mast-zero-touch-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const at = (name: string): string => join(folder, name)
const pem = (name: string, c: Certificate): string => {
  const text = Buffer.from(derOf(c)).toString('base64').replace(/.{64}/g, '$&\n')
  writeFileSync(at(name), `-----BEGIN CERTIFICATE-----\n${text}\n-----END CERTIFICATE-----\n`)
  return at(name)
}
const openssl = (...args: string[]) => spawnSync('openssl', args, { encoding: 'utf8' })
/** What it takes out of a message that it believes; null where it does not. */
function believed(der: Uint8Array, anchor: Certificate): string | null {
  writeFileSync(at('message'), der)
  const { status } = openssl(
    ...['cms', '-verify', '-binary', '-inform', 'DER', '-in', at('message')],
    ...['-CAfile', pem('anchor', anchor), '-purpose', 'any', '-out', at('content')],
  )
  return status === 0 ? readFileSync(at('content'), 'utf8') : null
}

const now = new Date()
const days = (n: number): Date => new Date(now.getTime() + n * 86_400_000)
const authority = (name: string) =>
  certified({ name, from: days(-1), until: days(100), isAuthority: true })

describe('signed messages', async () => {
  const maker = await Maker.make()
  const owner = await authority('Owner')
  const voucher = await maker.voucher({
    serial: 'AM-SWI-48274',
    owner: owner.certificate,
    createdOn: now,
    expiresOn: days(7),
  })
  it('of a maker are believed under its own anchor, and hold the voucher', async () => {
    const text = believed(voucher, maker.anchor)
    expect(voucherSchema.parse(JSON.parse(text!))['ietf-voucher:voucher']).toMatchObject({
      'serial-number': 'AM-SWI-48274',
      assertion: 'verified',
    })
    expect(believed(voucher, (await Maker.make()).anchor)).toBeNull()
    const changed = Buffer.from(voucher)
    changed[changed.indexOf('AM-SWI')]! ^= 1
    expect(believed(changed, maker.anchor)).toBeNull()
  })
  it('say of what kind their content is', () => {
    writeFileSync(at('voucher'), voucher)
    const { stdout } = openssl('cms', '-cmsout', '-print', '-inform', 'DER', '-in', at('voucher'))
    expect(stdout).toMatch(/eContentType:[^\n]*1\.2\.840\.113549\.1\.9\.16\.1\.40/)
  })
  it('of an owner are believed by way of who certified its desk', async () => {
    const desk = await certified(
      { name: 'Desk', from: days(-1), until: days(50), isAuthority: false },
      owner,
    )
    const text = '{"ietf-sztp-conveyed-info:redirect-information":{}}'
    const der = await signedCms(CONTENT.conveyedJson, new TextEncoder().encode(text), desk)
    expect(believed(der, owner.certificate)).toBe(text)
    expect(believed(der, maker.anchor)).toBeNull()
  })
  it('and certificates of another program hold here', async () => {
    execFileSync(
      'openssl',
      [
        ...['req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:P-256', '-nodes'],
        ...['-subj', '/CN=Another owner', '-days', '30', '-keyout', at('key'), '-out', at('cert')],
      ],
      { stdio: 'ignore' },
    )
    writeFileSync(at('text'), 'said by another program')
    execFileSync('openssl', [
      ...['cms', '-sign', '-binary', '-nodetach', '-outform', 'DER', '-in', at('text')],
      ...['-econtent_type', CONTENT.conveyedJson, '-signer', at('cert'), '-inkey', at('key')],
      ...['-md', 'sha256', '-out', at('theirs')],
    ])
    const read = readCms(new Uint8Array(readFileSync(at('theirs'))))
    expect(new TextDecoder().decode(read.content)).toBe('said by another program')
    expect(read.contentType).toBe(CONTENT.conveyedJson)
    const body = readFileSync(at('cert'), 'utf8').replace(/-----[^-]+-----|\s/g, '')
    const anchor = certificateOf(new Uint8Array(Buffer.from(body, 'base64')))
    // It holds from the second in which it was made.
    expect(await isSignedBy(read, [anchor], days(1))).toBe(true)
    expect(await isSignedBy(read, [owner.certificate], days(1))).toBe(false)
  })
})
