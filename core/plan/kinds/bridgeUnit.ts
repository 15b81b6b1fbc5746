/** What a radio for bridges is built to do: part of its profile. */
import { z } from 'zod'
import { ipv4Schema } from '../values'

/** A step of modulation in one width: what it carries and the level that it needs. */
const rateStepSchema = z.strictObject({
  widthMhz: z.number().min(1).max(4320),
  name: z.string().trim().min(1).max(24),
  /** On the air, Mbit/s. */
  mbps: z.number().positive().max(100_000),
  leastDbm: z.number().min(-120).max(0),
})
export type RateStep = z.infer<typeof rateStepSchema>

export const bridgeUnitSchema = z
  .strictObject({
    /** As its display and its page number them, with the middle of each. */
    channels: z
      .array(
        z.strictObject({ number: z.int().min(1).max(9999), mhz: z.number().min(100).max(100_000) }),
      )
      .min(1)
      .max(200),
    widthsMhz: z.array(z.number().min(1).max(4320)).min(1).max(12),
    /** At its antenna socket, dBm. */
    leastPowerDbm: z.number().min(-30).max(60),
    mostPowerDbm: z.number().min(-30).max(60),
    /** Empty where its maker publishes none. */
    steps: z.array(rateStepSchema).max(200),
    /** Of the rate on the air, what is left for data, 0 to 1. */
    dataShare: z.number().min(0.05).max(1),
    /** Both directions take turns, or each has a frequency of its own. */
    duplex: z.enum(['time', 'frequency']),
    antenna: z.strictObject({
      shape: z.enum(['dish', 'sector', 'around']),
      gainDbi: z.number().min(0).max(60),
      /** Of half power, across and up. */
      widthDegrees: z.number().min(0.1).max(360),
      heightDegrees: z.number().min(0.1).max(180),
      frontToBackDb: z.number().min(0).max(80),
      /** How much weaker the other polarisation is heard, dB. */
      crossPolarDb: z.number().min(0).max(60),
      /** Of a round dish, m. */
      diameterM: z.number().min(0.05).max(10).nullable(),
    }),
    /**
     * How it is told the length of the path: not at all; a timer for acknowledgements in us or m,
     * which limits nothing else; or m that turn its power down.
     */
    distance: z.strictObject({
      kind: z.enum(['none', 'timer-us', 'timer-m', 'power-m']),
      most: z.number().min(0).max(1_000_000),
    }),
    /** How a pair is set. */
    setting: z.enum(['hand', 'page', 'phone']),
    /**
     * Its own address when it is set by hand: the base, and what role and channel add to its last
     * number; null where it has none of that kind.
     */
    address: z
      .strictObject({
        base: ipv4Schema,
        main: z.int().min(0).max(255),
        far: z.int().min(0).max(255),
        perChannel: z.int().min(0).max(64),
      })
      .nullable(),
    /** A display shows its role and channel. */
    hasDisplay: z.boolean(),
  })
  .superRefine((unit, ctx) => {
    const numbers = new Set(unit.channels.map((c) => c.number))
    if (numbers.size !== unit.channels.length)
      ctx.addIssue({ code: 'custom', path: ['channels'], message: 'two channels have one number' })
    if (unit.leastPowerDbm > unit.mostPowerDbm)
      ctx.addIssue({
        code: 'custom',
        path: ['leastPowerDbm'],
        message: 'the least power is more than the most',
      })
  })
export type BridgeUnit = z.infer<typeof bridgeUnitSchema>
