/**
 * What is said by secure zero-touch provisioning: the JSON of the YANG modules of RFC 8572 (conveyed
 * information, the calls of a bootstrap server) and RFC 8366 (ownership vouchers), by RFC 7951.
 */
import { z } from 'zod'

/** Content types of CMS (RFC 8572 3.1, RFC 8366 9.3; arcs of id-ct, 1.2.840.113549.1.9.16.1). */
export const CONTENT = {
  conveyedJson: '1.2.840.113549.1.9.16.1.43',
  voucherJson: '1.2.840.113549.1.9.16.1.40',
} as const

const binary = z.base64().max(4_000_000)
const host = z.string().min(1).max(253)
/** yang:hex-string (RFC 6991). */
const hex = z.string().regex(/^([0-9a-fA-F]{2}(:[0-9a-fA-F]{2})*)?$/)

/** RFC 8366 5.3: one of the two that end it, a time or a nonce, and never both. */
export const voucherSchema = z.strictObject({
  'ietf-voucher:voucher': z
    .strictObject({
      'created-on': z.iso.datetime({ offset: true }),
      'expires-on': z.iso.datetime({ offset: true }).optional(),
      assertion: z.enum(['verified', 'logged', 'proximity']),
      'serial-number': z.string().min(1).max(64),
      'idevid-issuer': binary.optional(),
      /** DER of the certificate by which the owner is known. */
      'pinned-domain-cert': binary,
      'domain-cert-revocation-checks': z.boolean().optional(),
      nonce: binary.optional(),
      'last-renewal-date': z.iso.datetime({ offset: true }).optional(),
    })
    .refine((v) => v.nonce === undefined || v['expires-on'] === undefined, {
      message: 'a voucher with a nonce has no time at which it expires',
    }),
})
export type Voucher = z.infer<typeof voucherSchema>['ietf-voucher:voucher']

export const redirectSchema = z.strictObject({
  'bootstrap-server': z
    .array(
      z.strictObject({
        address: host,
        port: z.int().min(1).max(65_535).optional(),
        'trust-anchor': binary.optional(),
      }),
    )
    .min(1)
    .max(32),
})
export const onboardingSchema = z.strictObject({
  'boot-image': z
    .strictObject({
      'os-name': z.string().max(200).optional(),
      'os-version': z.string().max(200).optional(),
      'download-uri': z.array(z.string().max(2000)).max(16).optional(),
      'image-verification': z
        .array(
          z.strictObject({
            'hash-algorithm': z.literal('ietf-sztp-conveyed-info:sha-256'),
            'hash-value': hex,
          }),
        )
        .max(4)
        .optional(),
    })
    .optional(),
  'configuration-handling': z.enum(['merge', 'replace']).optional(),
  'pre-configuration-script': binary.optional(),
  configuration: binary.optional(),
  'post-configuration-script': binary.optional(),
})
export const conveyedSchema = z.union([
  z.strictObject({ 'ietf-sztp-conveyed-info:redirect-information': redirectSchema }),
  z.strictObject({ 'ietf-sztp-conveyed-info:onboarding-information': onboardingSchema }),
])
export type Conveyed = z.infer<typeof conveyedSchema>

export const bootstrapOutputSchema = z.strictObject({
  'ietf-sztp-bootstrap-server:output': z.strictObject({
    'reporting-level': z.enum(['minimal', 'verbose']).optional(),
    'conveyed-information': binary,
    'owner-certificate': binary.optional(),
    'ownership-voucher': binary.optional(),
  }),
})
export type BootstrapOutput = z.infer<
  typeof bootstrapOutputSchema
>['ietf-sztp-bootstrap-server:output']
