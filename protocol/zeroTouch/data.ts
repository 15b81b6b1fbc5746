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

/** RFC 8572 7.3, input of `get-bootstrapping-data`; an empty leaf is `[null]` (RFC 7951 6.9). */
export const bootstrapInputSchema = z.strictObject({
  'ietf-sztp-bootstrap-server:input': z.strictObject({
    'signed-data-preferred': z.tuple([z.null()]).optional(),
    'hw-model': z.string().max(200).optional(),
    'os-name': z.string().max(200).optional(),
    'os-version': z.string().max(200).optional(),
    /** 16 to 32 octets. */
    nonce: z.base64().min(24).max(44).optional(),
  }),
})
export type BootstrapInput = z.infer<
  typeof bootstrapInputSchema
>['ietf-sztp-bootstrap-server:input']

const PROBLEMS = ['initiated', 'warning', 'error', 'complete'] as const
const stages = ['parsing', 'pre-script', 'config', 'post-script'] as const
const progressTypes = [
  'bootstrap-initiated',
  ...stages.flatMap((s) => PROBLEMS.map((p) => `${s}-${p}` as const)),
  'boot-image-initiated',
  'boot-image-warning',
  'boot-image-error',
  'boot-image-mismatch',
  'boot-image-installed-rebooting',
  'boot-image-complete',
  'bootstrap-warning',
  'bootstrap-error',
  'bootstrap-complete',
  'informational',
] as const
export type ProgressType = (typeof progressTypes)[number]
/** RFC 8572 7.3, input of `report-progress`. */
export const progressInputSchema = z.strictObject({
  'ietf-sztp-bootstrap-server:input': z.strictObject({
    'progress-type': z.enum(progressTypes),
    message: z.string().max(2000).optional(),
    'ssh-host-keys': z
      .strictObject({
        'ssh-host-key': z
          .array(z.strictObject({ algorithm: z.string().max(100), 'key-data': binary }))
          .max(16),
      })
      .optional(),
    'trust-anchor-certs': z
      .strictObject({ 'trust-anchor-cert': z.array(binary).max(16) })
      .optional(),
  }),
})

/** What is answered where a call fails (RFC 8040 7.1). */
export const restconfErrorsSchema = z.strictObject({
  'ietf-restconf:errors': z.strictObject({
    error: z
      .array(
        z.strictObject({
          'error-type': z.enum(['transport', 'rpc', 'protocol', 'application']),
          'error-tag': z.string(),
          'error-message': z.string().optional(),
        }),
      )
      .min(1),
  }),
})
export type RestconfErrors = z.infer<typeof restconfErrorsSchema>

/** Media type of all of it (RFC 8040 11.3.2). */
export const YANG_JSON = 'application/yang-data+json'
/** Where the calls are (RFC 8040 3.6), beneath the root that RESTCONF has here. */
export const RESTCONF_ROOT = '/restconf'
export const OPERATION = {
  get: 'ietf-sztp-bootstrap-server:get-bootstrapping-data',
  report: 'ietf-sztp-bootstrap-server:report-progress',
} as const
