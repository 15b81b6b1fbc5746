/** C-20: the speed that a socket came up at against the one that was planned. */

export interface SocketSpeed {
  readonly plannedMbps: number
  readonly seenMbps: number
  readonly says: string
  /** In the order in which to look. */
  readonly causes: readonly string[]
}

/** Of two sockets the slower decides (IEEE 802.3 28, auto-negotiation). */
export const plannedSpeed = (aMbps: number, bMbps: number): number => Math.min(aMbps, bMbps)

const speed = (mbps: number): string => (mbps >= 1000 ? `${mbps / 1000} Gbit/s` : `${mbps} Mbit/s`)

/** Speeds that ask for all four pairs of a cable (IEEE 802.3 40, 55 and 126). */
const FOUR_PAIRS_MBPS = 1000

export function socketSpeed(plannedMbps: number, seenMbps: number): SocketSpeed {
  const base = { plannedMbps, seenMbps }
  if (seenMbps === plannedMbps)
    return { ...base, says: `It came up at ${speed(seenMbps)}, as planned.`, causes: [] }
  if (seenMbps > plannedMbps)
    return {
      ...base,
      says: `It came up at ${speed(seenMbps)}, and the plan expects ${speed(plannedMbps)}.`,
      causes: ['Another device or another socket than planned hangs there: compare the label.'],
    }
  if (seenMbps === 0)
    return {
      ...base,
      says: 'It did not come up.',
      causes: [
        'The plug is not in at one of the ends, or in another socket.',
        'What hangs there has no power, or is still starting.',
        'The socket is switched off in its settings.',
        'The cable is broken: try one that is known to be good.',
      ],
    }
  return {
    ...base,
    says: `It came up at ${speed(seenMbps)} in place of ${speed(plannedMbps)}.`,
    causes: [
      ...(plannedMbps >= FOUR_PAIRS_MBPS && seenMbps < FOUR_PAIRS_MBPS
        ? [
            'One pair of the cable has no contact: 100 Mbit/s needs two pairs, 1 Gbit/s all four. ' +
              'Press the plugs in, then try another lead.',
            'An old lead of two pairs, or one that shares its cable with a telephone.',
          ]
        : ['The cable is not good enough for the speed: its kind, its length, its bends.']),
      'An injector or a surge protector on the way that passes no more.',
      'One end is set to a fixed speed: both ends are left to agree by themselves.',
      'Another socket of the device than planned, of a lower speed.',
    ],
  }
}
