/**
 * Probes that a proof asks of a site, and what came of them, as seen from the asking host alone.
 */
import { z } from 'zod'

const id = z.string().max(64)
export const probeTargetSchema = z.discriminatedUnion('kind', [
  /** Another host, or a device's own page, by whatever address it has now. */
  z.strictObject({ kind: z.literal('host'), deviceId: id }),
  z.strictObject({ kind: z.literal('address'), address: z.ipv4() }),
  /** The gateway address from the host's own lease. */
  z.strictObject({ kind: z.literal('own-gateway') }),
  /** A well-known host on the internet. */
  z.strictObject({ kind: z.literal('internet') }),
  /** The outer address of the site's gateway. */
  z.strictObject({ kind: z.literal('line') }),
  /** The other end of a tunnel, by its address in it. */
  z.strictObject({ kind: z.literal('peer'), peerId: id }),
])
export const probeSchema = z.strictObject({
  id: z.string().max(240),
  /** A device id, `internet`, `gateway` where the site's gateway asks, or the peer of a tunnel. */
  from: id,
  kind: z.enum([
    'lease',
    'ping',
    'tcp',
    'udp',
    'name',
    'air',
    'page',
    'bridge',
    'handshake',
    'exit',
  ]),
  target: probeTargetSchema.nullable(),
  port: z.int().min(1).max(65_535).nullable(),
  /**
   * Of a ping: size of the whole packet, octets, which nobody on the way may take apart; null is a
   * small one.
   */
  octets: z.int().min(84).max(9216).nullable().optional(),
  /** The access points at which the asking and the asked host are to be; null where they are. */
  via: id.nullable().optional(),
  targetVia: id.nullable().optional(),
  /** Of the page for guests: how long who has passed it is let through. */
  sessionMinutes: z.int().min(1).max(43_200).nullable().optional(),
  /** Of a peer: the host inside whose cable it is carried to. */
  inside: id.nullable().optional(),
  /** For how long nobody says anything before it is asked, s. */
  idleSeconds: z.int().min(1).max(3600).nullable().optional(),
  /** The peer that is off while it is asked. */
  without: id.nullable().optional(),
  /** Of an exit: from where the internet is to see who asks: a line, or a peer. */
  exit: id.nullable().optional(),
  /** Of a bridge, whose unit is read at one end: what is to be met there. */
  bridge: z
    .strictObject({
      bridgeId: id,
      end: z.enum(['a', 'b']),
      leastDbm: z.number(),
      leastMbps: z.number(),
    })
    .nullable()
    .optional(),
  /** Of the air: where on a plan of the place the host is carried, and what is to be met there. */
  spot: z
    .strictObject({
      floorId: id,
      x: z.number(),
      y: z.number(),
      leastDbm: z.number(),
      leastMbps: z.number(),
    })
    .nullable()
    .optional(),
})
export type Probe = z.infer<typeof probeSchema>

export const observationSchema = z.strictObject({
  id: z.string().max(240),
  outcome: z.enum([
    'works',
    'no-answer',
    'refused',
    'no-lease',
    'no-address',
    'no-name',
    'off',
    'too-big',
    'too-weak',
    'not-held',
    'other-session',
    'no-handshake',
    'elsewhere',
  ]),
  /** The asking host's address at the time. */
  address: z.ipv4().nullable(),
  /** Of the air: what was read there, and of whom. */
  reading: z
    .strictObject({ deviceId: id, dbm: z.number(), mbps: z.number() })
    .nullable()
    .optional(),
  /**
   * Of a peer: where it calls, where the first line of the site is seen that has a signal, how far
   * its calls were seen to come, and whether its file sends through what it asked.
   */
  tunnel: z
    .strictObject({
      called: z.ipv4().nullable(),
      here: z.ipv4().nullable(),
      arrived: z.enum(['nowhere', 'line', 'end']),
      isSentThrough: z.boolean(),
      /** Of IKEv2: why one end refused the other, as its log says. */
      refusal: z.string().max(80).nullable().default(null),
    })
    .nullable()
    .optional(),
  /** Who offered a lease. */
  servers: z.array(z.ipv4()).max(16).default([]),
  detail: z.string().max(200),
  /** Virtual time, s since the stand-ins were switched on. */
  atSeconds: z.number(),
  /** What the clock of the site shows then, s since 1970 (UTC); null where nobody looked. */
  epochSeconds: z.number().nullable().default(null),
})
export type Observation = z.infer<typeof observationSchema>
