/** Values that entities of several kinds have: ids, names, addresses, ports. */
import { z } from 'zod'
import { parseAddress } from '../addressing/address'
import { formatPrefix, readPrefix } from '../addressing/prefix'

export const MAX_TEXT = 200

/**
 * No id is a name that objects have without being given it; of those, `constructor` alone looks
 * like an id.
 */
const idPattern = /^(?!constructor$)[a-z][a-z0-9]*([-._][a-z0-9]+)*$/

export const idSchema = z
  .string()
  .max(64)
  .regex(
    idPattern,
    'an id is lower-case letters, digits, dots and hyphens, and not the word constructor',
  )

export const nameSchema = z.string().trim().min(1, 'a name is needed').max(80)

export const textSchema = z.string().max(MAX_TEXT)

export const ipv4Schema = z
  .string()
  .max(15)
  .refine(
    (t) => parseAddress(t)?.family === 4,
    'not an IPv4 address; expected for example 10.20.30.1',
  )

/** An address with the length of its subnet, for example 203.0.113.10/29. */
export const addressWithLengthSchema = z
  .string()
  .regex(/^[\d.]+\/\d+$/, 'expected an address with its length, for example 203.0.113.10/29')
  .refine(
    (t) => parseAddress(t.split('/')[0]!)?.family === 4 && Number(t.split('/')[1]) <= 32,
    'not an IPv4 address with a length',
  )

export const subnetSchema = z
  .string()
  .max(18)
  .superRefine((value, ctx) => {
    const read = readPrefix(value)
    if (!('problem' in read)) {
      if (read.family !== 4)
        ctx.addIssue({
          code: 'custom',
          message: 'not an IPv4 subnet; expected for example 10.20.30.0/24',
        })
      return
    }
    const message =
      read.problem === 'host bits set' && read.network
        ? `host bits are set; the subnet is ${formatPrefix(read.network)}`
        : `${read.problem}; expected for example 10.20.30.0/24`
    ctx.addIssue({ code: 'custom', message })
  })

export const subnet6Schema = z
  .string()
  .max(43)
  .superRefine((value, ctx) => {
    const read = readPrefix(value)
    if (!('problem' in read)) {
      if (read.family !== 6)
        ctx.addIssue({
          code: 'custom',
          message: 'not an IPv6 prefix; expected for example 2001:db8:20::/56',
        })
      return
    }
    const message =
      read.problem === 'host bits set' && read.network
        ? `host bits are set; the prefix is ${formatPrefix(read.network)}`
        : `${read.problem}; expected for example 2001:db8:20::/56`
    ctx.addIssue({ code: 'custom', message })
  })

export const hardwareAddressSchema = z
  .string()
  .regex(
    /^([0-9a-f]{2}:){5}[0-9a-f]{2}$/,
    'not a hardware address; expected for example 02:00:5e:10:00:01',
  )

export const serialSchema = z
  .string()
  .regex(/^[A-Z0-9][A-Z0-9-]{2,31}$/, 'a serial is 3 to 32 capital letters, digits and hyphens')

export const vlanIdSchema = z
  .int('a VLAN id is a whole number')
  .min(1, 'VLAN ids run from 1 (IEEE 802.1Q)')
  .max(4094, 'VLAN ids end at 4094 (IEEE 802.1Q)')

export const spanSchema = z.strictObject({ first: ipv4Schema, last: ipv4Schema })

/** Names of hosts (RFC 1123 2.1): letters, digits and hyphens between dots. */
export const domainSchema = z
  .string()
  .max(200)
  .regex(
    /^(?!-)[a-z0-9-]{1,63}(?<!-)(\.(?!-)[a-z0-9-]{1,63}(?<!-))*$/,
    'a domain is lower-case letters, digits and hyphens between dots, for example harbour.internal',
  )

/** As on the housing. */
export const portNameSchema = z.string().regex(/^(?!constructor$)[a-z0-9]{1,12}$/)

export const portNumberSchema = z
  .int('a port is a whole number')
  .min(1, 'ports run from 1 to 65535')
  .max(65_535, 'ports run from 1 to 65535')

/** The id of a device's port by its name on the housing. */
export const portIdOf = (deviceId: string, portName: string): string => `${deviceId}.${portName}`
