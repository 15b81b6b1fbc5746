import { describe, expect, it } from 'vitest'
import {
  certificatesCms,
  certified,
  CONTENT,
  derOf,
  certificateOf,
  isSignedBy,
  plainCms,
  readCms,
  signedCms,
  subjectOf,
} from '.'

const from = new Date('2026-01-01T00:00:00Z')
const until = new Date('2030-01-01T00:00:00Z')
const now = new Date('2026-11-29T00:00:00Z')
const text = new TextEncoder().encode('{"what":"is signed"}')
const authority = (name: string) => certified({ name, from, until, isAuthority: true })

describe('a signed message', () => {
  it('is read again, and holds under who certified its signer', async () => {
    const root = await authority('Owner')
    const signer = await certified({ name: 'Desk', from, until, isAuthority: false }, root)
    const read = readCms(await signedCms(CONTENT.conveyedJson, text, signer))
    expect(read.contentType).toBe(CONTENT.conveyedJson)
    expect(read.content).toEqual(text)
    expect(await isSignedBy(read, [root.certificate], now)).toBe(true)
    expect(await isSignedBy(read, [(await authority('Owner')).certificate], now)).toBe(false)
  })
  it('holds no longer when an octet of it is another, or its signer has expired', async () => {
    const root = await authority('Owner')
    const der = await signedCms(CONTENT.conveyedJson, text, root)
    const at = Buffer.from(der).indexOf('signed')
    const changed = der.slice()
    changed[at] = changed[at]! ^ 1
    expect(await isSignedBy(readCms(changed), [root.certificate], now)).toBe(false)
    expect(await isSignedBy(readCms(der), [root.certificate], new Date('2031-01-01'))).toBe(false)
    expect(await isSignedBy(readCms(der), [root.certificate], now)).toBe(true)
  })
  it('is not one where nobody signed', async () => {
    const root = await authority('Owner')
    for (const der of [plainCms(CONTENT.conveyedJson, text), certificatesCms([root.certificate])])
      expect(await isSignedBy(readCms(der), [root.certificate], now)).toBe(false)
    expect(readCms(plainCms(CONTENT.conveyedJson, text)).content).toEqual(text)
    expect(readCms(certificatesCms([root.certificate])).certificates.map(derOf)).toEqual([
      derOf(root.certificate),
    ])
  })
  it.each([[new Uint8Array()], [Uint8Array.of(48, 130, 255)], [text]])(
    'is not read out of %j',
    (b) => expect(() => readCms(b)).toThrow(RangeError),
  )
  it('names a device in the certificate that its maker gave it', async () => {
    const maker = await authority('Maker')
    const device = await certified(
      { name: 'Unit', serial: 'AM-1', from, until, isAuthority: false },
      maker,
    )
    const again = certificateOf(derOf(device.certificate))
    expect([subjectOf(again, 'serial'), subjectOf(again, 'common')]).toEqual(['AM-1', 'Unit'])
  })
})
