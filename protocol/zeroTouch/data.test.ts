/** The JSON of the examples of RFC 8572 (4.1, 4.2, 7.2) and RFC 8366 (5.2), as remembered. */
import { describe, expect, it } from 'vitest'
import { bootstrapOutputSchema, conveyedSchema, voucherSchema } from '.'

const BINARY = 'YmFzZTY0ZW5jb2RlZHZhbHVlPT0='
const voucher = (more: object) => ({
  'ietf-voucher:voucher': {
    'created-on': '2016-10-07T19:31:42Z',
    assertion: 'logged',
    'serial-number': 'JADA123456789',
    'idevid-issuer': BINARY,
    'pinned-domain-cert': BINARY,
    ...more,
  },
})

describe('zero-touch data', () => {
  it.each([
    {
      'ietf-sztp-conveyed-info:redirect-information': {
        'bootstrap-server': [
          { address: 'sztp1.example.com', port: 8443, 'trust-anchor': BINARY },
          { address: 'sztp2.example.com', port: 8443, 'trust-anchor': BINARY },
        ],
      },
    },
    {
      'ietf-sztp-conveyed-info:onboarding-information': {
        'boot-image': {
          'os-name': 'VendorOS',
          'os-version': '17.2R1.6',
          'download-uri': ['https://example.com/path/to/image/file'],
          'image-verification': [
            {
              'hash-algorithm': 'ietf-sztp-conveyed-info:sha-256',
              'hash-value':
                'ba:ec:cf:a5:67:82:b4:10:77:c6:67:a6:22:ab:7d:50:04:a7:8b:8f:0e:db:02:8b:f4:75:55:fb:c1:13:b2:33',
            },
          ],
        },
        'configuration-handling': 'merge',
        'pre-configuration-script': BINARY,
        configuration: BINARY,
        'post-configuration-script': BINARY,
      },
    },
  ])('conveys %j', (example) => expect(conveyedSchema.parse(example)).toEqual(example))
  it('is answered as a call of RESTCONF is', () => {
    const example = {
      'ietf-sztp-bootstrap-server:output': {
        'reporting-level': 'verbose',
        'conveyed-information': BINARY,
        'owner-certificate': BINARY,
        'ownership-voucher': BINARY,
      },
    }
    expect(bootstrapOutputSchema.parse(example)).toEqual(example)
  })
  it('vouches until a time or for a nonce, and never for both', () => {
    const until = { 'expires-on': '2016-10-21T19:31:42Z' }
    const nonce = { nonce: 'AQIDBA==' }
    expect(voucherSchema.safeParse(voucher(until)).success).toBe(true)
    expect(voucherSchema.safeParse(voucher(nonce)).success).toBe(true)
    expect(voucherSchema.safeParse(voucher({ ...until, ...nonce })).success).toBe(false)
  })
  it.each([
    {},
    { 'ietf-sztp-conveyed-info:redirect-information': { 'bootstrap-server': [] } },
    { 'ietf-sztp-conveyed-info:onboarding-information': { configuration: 'not base64!' } },
    { 'ietf-sztp-conveyed-info:onboarding-information': { shell: 'BINARY' } },
  ])('is refused where it is not after its module: %j', (bad) =>
    expect(conveyedSchema.safeParse(bad).success).toBe(false),
  )
})
